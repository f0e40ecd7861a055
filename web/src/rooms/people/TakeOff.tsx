import Button from "@mui/material/Button";
import { useState } from "react";
import type { Schemas } from "../../api/client";
import { useAttempt } from "../../api/useAttempt";
import { ConfirmDialog } from "../../parts/ConfirmDialog";
import { Problem } from "../../parts/Problem";
import { useByHand } from "./useByHand";

interface TakeOffProps {
  person: string;
  membership: Schemas["MembershipOut"];
}

/** Takes a person off a list who asked for it by another way than a link, or who complained. */
export function TakeOff({ person, membership }: TakeOffProps) {
  const [asking, setAsking] = useState(false);
  const change = useByHand(person);
  const { attempt, failed } = useAttempt();
  const take = async (how: "leave" | "complained") => {
    if (await attempt(() => change({ [how]: [membership.id] }))) setAsking(false);
  };
  return (
    <>
      <Button onClick={() => setAsking(true)} aria-label={`Unsubscribe from ${membership.list}`}>
        Unsubscribe
      </Button>
      {asking && (
        <ConfirmDialog
          title={`Take them off ${membership.list}?`}
          action="They asked to leave"
          otherwise="Not now"
          instead={{ label: "They complained", onAct: () => take("complained") }}
          onClose={() => setAsking(false)}
          onConfirm={() => take("leave")}
        >
          It is in force before the next email, and their emails of this list end. Nobody here can
          put them back: that takes an opt-in of their own, and after a complaint a confirmation by
          email too.
          <Problem error={failed} />
        </ConfirmDialog>
      )}
    </>
  );
}
