import Typography from "@mui/material/Typography";
import { Link } from "react-router";
import { useSlug } from "../api/workspace";
import { counted } from "./moment";

/** That a thing of a list needs attention, and how often something went wrong with it. */
export function Attention({ times }: { times: number }) {
  const workspace = useSlug();
  if (times === 0) return null;
  return (
    <Typography component="span" variant="body2" color="error">
      ▲ failed {counted(times, "time", "times")} · <Link to={`/w/${workspace}/snags`}>see why</Link>
    </Typography>
  );
}
