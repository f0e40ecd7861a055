import Typography from "@mui/material/Typography";
import { Link } from "react-router";
import type { Schemas } from "../../api/client";
import { useSlug } from "../../api/workspace";
import { counted } from "../../parts/formats";
import { StateWord } from "../../parts/StateWord";

/** Whether a sequence is live, which revision, and how far a reader's draft is from it. */
export function SequenceState(props: { sequence: Schemas["SequenceOut"]; readOnly: boolean }) {
  const { sequence, readOnly } = props;
  const workspace = useSlug();
  const { live_number: live } = sequence;
  return (
    <>
      <StateWord state={sequence.state} />
      <Typography variant="body2" color="textSecondary">
        {live ? (
          <Link to={`/w/${workspace}/sequences/${sequence.id}/revisions/${live}`}>
            revision {live}
          </Link>
        ) : (
          "nobody is in it yet"
        )}
        {sequence.differs &&
          readOnly &&
          ` · the draft differs: ${counted(sequence.changes.length, "change", "changes")}`}
      </Typography>
    </>
  );
}
