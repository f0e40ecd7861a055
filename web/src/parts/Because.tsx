import Typography from "@mui/material/Typography";
import { Link } from "react-router";
import { useSlug } from "../api/workspace";

/** Why a fact is so, as the server keeps it. */
export interface BecauseData {
  kind?: string;
  sentence?: string;
  source_id?: string | null;
  source_name?: string | null;
  submission_id?: string | null;
  revision?: number | null;
  line_id?: string | null;
  band?: string | null;
  sequence_id?: string | null;
  sequence_name?: string | null;
  step_id?: string | null;
  service_id?: string | null;
  service_name?: string | null;
  broadcast_id?: string | null;
  broadcast_name?: string | null;
}

interface BecauseProps {
  because: Record<string, unknown> | null;
  /** Only where it comes from: why each thing is so stands beside it. */
  origin?: boolean;
}

/** "because …", each part of it a way to where it was decided. */
export function Because({ because, origin = false }: BecauseProps) {
  const workspace = useSlug();
  if (!because) return null;
  const why = because as BecauseData;
  const at = `/w/${workspace}`;
  return (
    <Typography component="span" variant="body2" color="textSecondary">
      {origin
        ? "from "
        : `because ${why.sequence_id || why.broadcast_id ? "of " : why.sentence || "of "}`}
      {why.sequence_id && (
        <Link to={`${at}/sequences/${why.sequence_id}#${why.step_id ?? ""}`}>
          sequence {why.sequence_name}
        </Link>
      )}
      {why.broadcast_id && (
        <Link to={`${at}/broadcasts/${why.broadcast_id}`}>broadcast {why.broadcast_name}</Link>
      )}
      {why.source_id && (
        <>
          {!origin && why.sentence && ", "}
          <Link to={`${at}/sources/${why.source_id}`}>{why.source_name}</Link>
        </>
      )}
      {why.source_id && why.revision && (
        <>
          {", "}
          <Link
            to={`${at}/sources/${why.source_id}/revisions/${why.revision}#${why.line_id ?? why.band ?? ""}`}
          >
            revision {why.revision}
          </Link>
        </>
      )}
      {why.service_id && (
        <>
          {", "}
          <Link to={`${at}/services/${why.service_id}`}>{why.service_name}</Link>
        </>
      )}
      {why.submission_id && (
        <>
          {", "}
          <Link to={`${at}/submissions/${why.submission_id}`}>submission</Link>
        </>
      )}
    </Typography>
  );
}
