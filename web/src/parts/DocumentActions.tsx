import Button from "@mui/material/Button";
import Dialog from "@mui/material/Dialog";
import DialogActions from "@mui/material/DialogActions";
import DialogContent from "@mui/material/DialogContent";
import DialogTitle from "@mui/material/DialogTitle";
import Typography from "@mui/material/Typography";
import { useState, type ReactNode } from "react";
import type { Schemas } from "../api/client";
import { useMayChange } from "../api/workspace";
import { goTo, PreFlight } from "./Findings";
import { NumberField } from "./NumberField";
import { TurnOn } from "./TurnOn";

interface DocumentActionsProps {
  of: Pick<Schemas["SourceOut"], "state" | "differs">;
  findings: Schemas["Finding"][];
  saving: boolean;
  /** Whether there is something else to turn on along with it. */
  also?: boolean;
  /** What the draft has different from what is live, in sentences. */
  changes?: string[];
  /** What becomes of people, said before turning on. */
  says?: string | undefined;
  /** What is chosen besides before turning on. */
  more?: ReactNode;
  /** What would happen at once on resuming; where it says something, spreading is offered. */
  resuming?: string;
  onTurnOn: (note: string) => Promise<boolean>;
  onPause: () => Promise<boolean>;
  onResume: (spreadHours: number) => Promise<boolean>;
}

/** Pre-flight, turning on, pausing and resuming: the same for a route and a sequence. */
export function DocumentActions(props: DocumentActionsProps) {
  const { of: owner, findings, saving, also = false, changes, says, more, resuming = "" } = props;
  const { onTurnOn, onPause, onResume } = props;
  const [asking, setAsking] = useState(false);
  const mayChange = useMayChange();
  const isLive = owner.state !== "draft";
  const hasChanges = !isLive || owner.differs || saving || also;
  if (!mayChange) return <PreFlight findings={findings} />;
  return (
    <>
      <PreFlight findings={findings} />
      {owner.state === "live" && <Button onClick={() => void onPause()}>Pause</Button>}
      {owner.state === "paused" && (
        <Button onClick={() => (resuming ? setAsking(true) : void onResume(0))}>Resume</Button>
      )}
      {asking && <Resuming says={resuming} onClose={() => setAsking(false)} onResume={onResume} />}
      {hasChanges && (
        <TurnOn
          again={isLive}
          findings={findings}
          disabled={saving}
          {...(changes && { changes })}
          says={[owner.state === "paused" && "It stays paused until you resume it.", says]
            .filter(Boolean)
            .join(" ")}
          more={more}
          onSee={goTo}
          onTurnOn={onTurnOn}
        />
      )}
    </>
  );
}

/** Says how many would go on at once, and offers to spread them. */
function Resuming(props: {
  says: string;
  onClose: () => void;
  onResume: (spreadHours: number) => Promise<boolean>;
}) {
  const [hours, setHours] = useState(24);
  const resume = async (spread: number) => {
    if (await props.onResume(spread)) props.onClose();
  };
  return (
    <Dialog open onClose={props.onClose} fullWidth maxWidth="xs">
      <DialogTitle>Resume</DialogTitle>
      <DialogContent>
        <Typography variant="body2" sx={{ mb: 2 }}>
          {props.says} They can also continue one after the other.
        </Typography>
        <NumberField
          label="Spread over (hours)"
          value={hours}
          min={1}
          max={336}
          onChange={setHours}
        />
      </DialogContent>
      <DialogActions>
        <Button onClick={props.onClose}>Cancel</Button>
        <Button onClick={() => void resume(0)}>All at once</Button>
        <Button variant="contained" onClick={() => void resume(hours)}>
          Spread them
        </Button>
      </DialogActions>
    </Dialog>
  );
}
