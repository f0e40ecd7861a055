import Button from "@mui/material/Button";
import Typography from "@mui/material/Typography";
import { useMutation } from "@tanstack/react-query";
import { api, take } from "../../api/client";
import { useReload, useSlug } from "../../api/workspace";
import { Problem } from "../../parts/Problem";
import type { Service } from "./queries";

/** Reads the fields, lists and tags over there anew, and says what changed. */
export function ReadAgain({ service }: { service: Service }) {
  const workspace = useSlug();
  const reload = useReload();
  const read = useMutation({
    mutationFn: () =>
      take(
        api.POST("/api/workspaces/{workspace}/services/{service}/read", {
          params: { path: { workspace, service: service.id } },
        }),
      ),
    onSuccess: () => reload("service", "services", "catalogue", "snags", "source"),
    onError: () => undefined,
  });
  return (
    <>
      <Button disabled={read.isPending} onClick={() => read.mutate()}>
        {read.isPending ? "Reading …" : "Read again"}
      </Button>
      {read.data && (
        <Typography variant="caption" color="textSecondary">
          {read.data.changes.length === 0
            ? "Nothing changed."
            : read.data.changes.map((one) => one.sentence).join(" ")}
        </Typography>
      )}
      <Problem error={read.error} />
    </>
  );
}
