import { useEffect } from "react";
import { useBlocker } from "react-router";
import { LeaveDialog } from "./LeaveDialog";

/** For a form that is saved by a button: whoever leaves it with changes is asked first. */
export function AskBeforeLeaving({ changed }: { changed: boolean }) {
  const leaving = useBlocker(changed);
  useEffect(() => {
    if (!changed) return undefined;
    const ask = (event: BeforeUnloadEvent) => event.preventDefault();
    window.addEventListener("beforeunload", ask);
    return () => window.removeEventListener("beforeunload", ask);
  }, [changed]);
  return (
    <LeaveDialog
      open={leaving.state === "blocked"}
      onAnswer={(leave) => (leave ? leaving.proceed?.() : leaving.reset?.())}
    />
  );
}
