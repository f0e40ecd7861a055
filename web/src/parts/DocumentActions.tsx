import Button from "@mui/material/Button";
import type { Schemas } from "../api/client";
import { useMayChange } from "../api/workspace";
import { goTo, PreFlight } from "./Findings";
import { TurnOn } from "./TurnOn";

interface DocumentActionsProps {
  of: Pick<Schemas["SourceOut"], "state" | "differs">;
  findings: Schemas["Finding"][];
  saving: boolean;
  /** What the draft has different from what is live, in sentences. */
  changes?: string[];
  /** What becomes of people, said before turning on. */
  says?: string | undefined;
  onTurnOn: (note: string) => Promise<boolean>;
  onPause: () => Promise<boolean>;
  onResume: () => Promise<boolean>;
}

/** Pre-flight, turning on, pausing and resuming: the same for a route and a sequence. */
export function DocumentActions(props: DocumentActionsProps) {
  const { of: owner, findings, saving, changes, says, onTurnOn, onPause, onResume } = props;
  const mayChange = useMayChange();
  const isLive = owner.state !== "draft";
  const hasChanges = !isLive || owner.differs || saving;
  if (!mayChange) return <PreFlight findings={findings} />;
  return (
    <>
      <PreFlight findings={findings} />
      {owner.state === "live" && <Button onClick={() => void onPause()}>Pause</Button>}
      {owner.state === "paused" && <Button onClick={() => void onResume()}>Resume</Button>}
      <TurnOn
        again={isLive}
        findings={findings}
        disabled={!hasChanges}
        {...(changes && { changes })}
        says={[owner.state === "paused" && "It stays paused until you resume it.", says]
          .filter(Boolean)
          .join(" ")}
        onSee={goTo}
        onTurnOn={onTurnOn}
      />
    </>
  );
}
