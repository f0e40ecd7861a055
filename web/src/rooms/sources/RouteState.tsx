import { counted } from "../../parts/formats";
import Stack from "@mui/material/Stack";
import Typography from "@mui/material/Typography";
import { Link } from "react-router";
import type { Schemas } from "../../api/client";
import { useMayChange, useSlug } from "../../api/workspace";
import { StateWord } from "../../parts/StateWord";
import { KINDS } from "./kinds";

/** Whether the route is live, by which revision, and whether the draft differs from it. */
export function RouteState({ source }: { source: Schemas["SourceOut"] }) {
  const workspace = useSlug();
  // Who may turn it on reads on the button how many they are.
  const mayChange = useMayChange();
  return (
    <Stack direction="row" spacing={1} sx={{ alignItems: "baseline" }}>
      <Typography variant="body2" color="textSecondary" sx={{ whiteSpace: "nowrap" }}>
        {KINDS[source.kind].name}
      </Typography>
      <StateWord state={source.state} />
      {source.live_number !== null && (
        <Typography variant="body2" color="textSecondary" sx={{ whiteSpace: "nowrap" }}>
          <Link to={`/w/${workspace}/sources/${source.id}/revisions/${source.live_number}`}>
            revision {source.live_number}
          </Link>
          {source.differs &&
            !mayChange &&
            ` · the draft differs: ${counted(source.changes.length, "change", "changes")}`}
        </Typography>
      )}
    </Stack>
  );
}
