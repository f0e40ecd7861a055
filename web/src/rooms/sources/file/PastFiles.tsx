import Typography from "@mui/material/Typography";
import { Link } from "react-router";
import { useSlug } from "../../../api/workspace";
import { useMoments } from "../../../parts/moment";
import type { FileOut } from "./useFiles";

/** The files that were imported before. */
export function PastFiles({ files }: { files: FileOut[] }) {
  const at = `/w/${useSlug()}`;
  const moments = useMoments();
  return (
    <>
      <Typography variant="h3" component="h3">
        Earlier files
      </Typography>
      {files.map((one) => (
        <Typography key={one.id} variant="body2">
          {moments.moment(one.created_at)}: {one.name}, {one.state}, {one.tally.new} new,{" "}
          {one.tally.updated} updated, {one.tally.refused} refused{" "}
          {one.done > 0 && <Link to={`${at}/submissions?file_import=${one.id}`}>submissions</Link>}
          {one.tally.refused > 0 && (
            <>
              {" "}
              <a href={`/api/workspaces/${at.slice(3)}/files/${one.id}/refused.csv`} download>
                refused rows
              </a>
            </>
          )}
        </Typography>
      ))}
    </>
  );
}
