import Button from "@mui/material/Button";
import { api, take } from "../api/client";
import { useAttempt } from "../api/useAttempt";
import { useReload, useWorkspace } from "../api/workspace";
import { Problem } from "./Problem";

/** Has forms ask browsers for the time zone, where the workspace does not yet and its owner reads this. */
export function AskForZones() {
  const { data } = useWorkspace();
  const reload = useReload();
  const { attempt, failed, busy } = useAttempt();
  if (!data || data.asks_zone || data.role !== "owner") return null;
  const turnOn = () =>
    attempt(async () => {
      await take(
        api.PUT("/api/workspaces/{workspace}", {
          params: { path: { workspace: data.slug } },
          body: { ...data, asks_zone: true, based_on: data.version },
        }),
      );
      await reload("workspace", "sequence");
    });
  return (
    <>
      <Button
        size="small"
        sx={{ p: 0, verticalAlign: "baseline" }}
        disabled={busy}
        onClick={() => void turnOn()}
      >
        Ask for it from now on
      </Button>
      <Problem error={failed} />
    </>
  );
}
