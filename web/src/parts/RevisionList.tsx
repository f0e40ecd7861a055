import Typography from "@mui/material/Typography";
import { Link } from "react-router";
import type { Schemas } from "../api/client";
import { useMoments } from "./moment";

/** The revisions of a document, the newest first: who turned them on, when, and why. */
export function RevisionList(props: { revisions: Schemas["RevisionLine"][]; at: string }) {
  const moments = useMoments();
  if (props.revisions.length === 0) return null;
  return (
    <Typography variant="body2" color="textSecondary" sx={{ pt: 1.5, pl: 1.5 }}>
      Revisions:{" "}
      {props.revisions.map((one, index) => (
        <span key={one.number}>
          {index > 0 && " · "}
          <Link to={`${props.at}/${one.number}`}>{one.number}</Link> {moments.moment(one.live_at)}
          {one.author && `, ${one.author}`}
          {one.note && `: ${one.note}`}
        </span>
      ))}
    </Typography>
  );
}
