import Button from "@mui/material/Button";
import Dialog from "@mui/material/Dialog";
import DialogActions from "@mui/material/DialogActions";
import DialogContent from "@mui/material/DialogContent";
import DialogTitle from "@mui/material/DialogTitle";
import { useState } from "react";
import type { Schemas } from "../../api/client";
import { Problem } from "../../parts/Problem";
import { useByHand } from "./useByHand";

interface TakeOffProps {
  person: string;
  membership: Schemas["MembershipOut"];
}

/** Takes a person off a list who asked for it by another way than a link, or who complained. */
export function TakeOff({ person, membership }: TakeOffProps) {
  const [asking, setAsking] = useState(false);
  const { change, failed } = useByHand(person);
  const take = async (how: "leave" | "complained") => {
    if (await change({ [how]: [membership.id] })) setAsking(false);
  };
  return (
    <>
      <Button onClick={() => setAsking(true)} aria-label={`Unsubscribe from ${membership.list}`}>
        Unsubscribe
      </Button>
      <Dialog open={asking} onClose={() => setAsking(false)} fullWidth maxWidth="xs">
        <DialogTitle>Take them off {membership.list}?</DialogTitle>
        <DialogContent>
          It is in force before the next email, and their emails of this list end. Nobody here can
          put them back: that takes an opt-in of their own, and after a complaint a confirmation by
          email too.
          <Problem error={failed} />
        </DialogContent>
        <DialogActions>
          <Button onClick={() => setAsking(false)}>Not now</Button>
          <Button onClick={() => void take("complained")}>They complained</Button>
          <Button variant="contained" onClick={() => void take("leave")}>
            They asked to leave
          </Button>
        </DialogActions>
      </Dialog>
    </>
  );
}
