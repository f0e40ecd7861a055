import Button from "@mui/material/Button";
import Dialog from "@mui/material/Dialog";
import DialogActions from "@mui/material/DialogActions";
import DialogContent from "@mui/material/DialogContent";
import DialogTitle from "@mui/material/DialogTitle";
import { useEffect, useState } from "react";
import { useBlocker } from "react-router";
import { abandonAll, anyUnsaved, saveAll } from "./openSessions";
import { forgetClosed } from "./useForm";

/** Nobody leaves a page with something unsaved behind: what saves itself is saved first, and for the rest
 * one is asked. */
export function LeaveGuard() {
  const leaving = useBlocker(
    ({ currentLocation, nextLocation }) =>
      currentLocation.pathname !== nextLocation.pathname && anyUnsaved(),
  );
  const [asks, setAsks] = useState(false);
  useEffect(() => {
    const warn = (event: BeforeUnloadEvent) => {
      if (!anyUnsaved()) return;
      event.preventDefault();
      void saveAll(false);
    };
    window.addEventListener("beforeunload", warn);
    return () => window.removeEventListener("beforeunload", warn);
  }, []);
  useEffect(() => {
    if (leaving.state !== "blocked") return undefined;
    let over = false;
    void saveAll(false).then((isSaved) => {
      if (over) return;
      if (isSaved) leaving.proceed();
      else setAsks(true);
    });
    return () => {
      over = true;
    };
  }, [leaving]);
  const stay = () => {
    setAsks(false);
    leaving.reset?.();
  };
  const leave = () => {
    setAsks(false);
    abandonAll();
    forgetClosed();
    leaving.proceed?.();
  };
  const saveAndLeave = async () => {
    if (await saveAll(true)) leave();
    else stay();
  };
  return (
    <Dialog open={asks && leaving.state === "blocked"} onClose={stay}>
      <DialogTitle>Leave without saving?</DialogTitle>
      <DialogContent>Your latest changes are not saved and would be lost.</DialogContent>
      <DialogActions>
        <Button onClick={leave}>Leave without saving</Button>
        <Button onClick={stay}>Stay here</Button>
        <Button variant="contained" onClick={() => void saveAndLeave()}>
          Save and leave
        </Button>
      </DialogActions>
    </Dialog>
  );
}
