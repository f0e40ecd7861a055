import { api, take } from "../../api/client";

/** Let somebody go on in a sequence whom an error had stopped. */
export function tryAgain(workspace: string, run: string) {
  return take(
    api.POST("/api/workspaces/{workspace}/runs/{run}/again", {
      params: { path: { workspace, run } },
    }),
  );
}
