import Alert from "@mui/material/Alert";
import Snackbar from "@mui/material/Snackbar";
import { useEffect, useState } from "react";
import { unhandled } from "../api/queries";

/** What went wrong and nothing else shows, so that no error is swallowed. */
export function Unhandled() {
  const [status, setStatus] = useState("");
  useEffect(() => {
    unhandled.say = (error) =>
      setStatus(error instanceof Error ? error.message : "Something went wrong. Try again.");
    // A promise that nobody waits for: a button whose action failed.
    const onRejected = (event: PromiseRejectionEvent) => unhandled.say(event.reason);
    window.addEventListener("unhandledrejection", onRejected);
    return () => {
      window.removeEventListener("unhandledrejection", onRejected);
      unhandled.say = () => undefined;
    };
  }, []);
  return (
    <Snackbar open={status !== ""} anchorOrigin={{ vertical: "bottom", horizontal: "center" }}>
      <Alert severity="error" variant="outlined" onClose={() => setStatus("")}>
        {status}
      </Alert>
    </Snackbar>
  );
}
