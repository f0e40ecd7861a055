import { useAttempt } from "../../api/useAttempt";
import Alert from "@mui/material/Alert";
import Button from "@mui/material/Button";
import { useQuery } from "@tanstack/react-query";
import { mergesQuery } from "../../api/people";
import { api, take } from "../../api/client";
import { useMayChange, useReload, useSlug } from "../../api/workspace";
import { useMoments } from "../../parts/moment";
import { Problem } from "../../parts/Problem";

/** Merges into this person that can still be undone. */
export function MergesToUndo({ person }: { person: string }) {
  const workspace = useSlug();
  const mayChange = useMayChange();
  const moments = useMoments();
  const reload = useReload();
  const { attempt, failed } = useAttempt();
  const { data = [] } = useQuery(mergesQuery(workspace, person));
  const undo = async (merge: string) => {
    await attempt(async () => {
      await take(
        api.POST("/api/workspaces/{workspace}/people/{person}/merges/{merge}/undo", {
          params: { path: { workspace, person, merge } },
        }),
      );
      await reload("person", "people", "trail");
    });
  };
  return (
    <>
      <Problem error={failed} />
      {data.map((one) => (
        <Alert
          key={one.id}
          severity="info"
          variant="outlined"
          sx={{ mt: 1.5 }}
          action={
            mayChange && (
              <Button size="small" onClick={() => void undo(one.id)}>
                Undo the merge
              </Button>
            )
          }
        >
          Merged with {one.address} {moments.moment(one.at)}; can be undone until{" "}
          {moments.moment(one.until)}.
        </Alert>
      ))}
    </>
  );
}
