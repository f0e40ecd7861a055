import { queryOptions } from "@tanstack/react-query";
import { api, take } from "./client";

/** A source with its sheet. */
export const sourceQuery = (workspace: string, source: string) =>
  queryOptions({
    queryKey: ["source", workspace, source],
    queryFn: () =>
      take(
        api.GET("/api/workspaces/{workspace}/sources/{source}", {
          params: { path: { workspace, source } },
        }),
      ),
  });

/** The questions of a source as they came in lately, and lines proposed for them. */
export const seenQuery = (workspace: string, source: string) =>
  queryOptions({
    queryKey: ["seen", workspace, source],
    queryFn: () =>
      take(
        api.GET("/api/workspaces/{workspace}/sources/{source}/seen", {
          params: { path: { workspace, source } },
        }),
      ),
  });

/** The newest submissions of a source. */
export const latelyQuery = (workspace: string, source: string) =>
  queryOptions({
    queryKey: ["submissions", workspace, source],
    queryFn: () =>
      take(
        api.GET("/api/workspaces/{workspace}/submissions", {
          params: { path: { workspace }, query: { source, tests: "with" } },
        }),
      ),
  });
