import { counted } from "./formats";
import { useAttempt } from "../api/useAttempt";
import { tasksQuery } from "../api/people";
import Button from "@mui/material/Button";
import Typography from "@mui/material/Typography";
import { useQuery } from "@tanstack/react-query";
import { Link } from "react-router";
import { api, take } from "../api/client";
import { useMayChange, useReload, useSlug, useWorkspace } from "../api/workspace";
import { Band, BandRow } from "./Band";
import { useMoments } from "./moment";
import { Problem } from "./Problem";

/** What members have to do: about one person, or all of it; nothing where there is nothing. */
export function Tasks({ person }: { person?: string }) {
  const workspace = useSlug();
  const moments = useMoments();
  const mayChange = useMayChange();
  const reload = useReload();
  const { data: tasks = [] } = useQuery(tasksQuery(workspace, person));
  const { attempt, failed } = useAttempt();
  const finish = (task: string) =>
    attempt(async () => {
      await take(
        api.POST("/api/workspaces/{workspace}/tasks/{task}/done", {
          params: { path: { workspace, task } },
        }),
      );
      await reload("tasks");
    });
  const { data: here } = useWorkspace();
  const now = here ? new Date(here.now).getTime() : 0;
  if (tasks.length === 0) return null;
  return (
    <Band name="To do" note={counted(tasks.length, "task", "tasks")}>
      <Problem error={failed} />
      {tasks.slice(0, 12).map((one, index) => (
        <BandRow key={one.id} ruled={index > 0}>
          <Typography variant="body2" component="div">
            <strong>{one.title}</strong>{" "}
            {!person && <Link to={`/w/${workspace}/people/${one.person}`}>{one.address}</Link>} · by{" "}
            {moments.moment(one.due_at)}
            {new Date(one.due_at).getTime() < now && (
              <Typography component="strong" variant="body2" color="error">
                {" "}
                (overdue)
              </Typography>
            )}
            {one.member && ` · ${one.member}`}
            {mayChange && (
              <Button
                onClick={() => void finish(one.id)}
                aria-label={`Done: ${one.title}, ${one.address}`}
              >
                Done
              </Button>
            )}
          </Typography>
        </BandRow>
      ))}
    </Band>
  );
}
