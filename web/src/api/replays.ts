import { infiniteQueryOptions, queryOptions, skipToken } from "@tanstack/react-query";
import { api, take, type Schemas } from "./client";
import type { paths } from "./schema";

type LinesAsked = NonNullable<
  paths["/api/workspaces/{workspace}/replays/{replay}/lines"]["get"]["parameters"]["query"]
>;

/** The replays of a source. */
export const replaysQuery = (workspace: string, source: string) =>
  queryOptions({
    queryKey: ["replays", workspace, source],
    queryFn: () =>
      take(
        api.GET("/api/workspaces/{workspace}/sources/{source}/replays", {
          params: { path: { workspace, source } },
        }),
      ),
  });

/** What a replay changed or left, page by page. */
export const replayLinesQuery = (
  workspace: string,
  replay: Schemas["ReplayOut"],
  what: LinesAsked["what"],
  kind: LinesAsked["kind"],
) =>
  infiniteQueryOptions({
    queryKey: ["replay-lines", workspace, replay.id, replay.state, what, kind],
    queryFn: ({ pageParam }) =>
      take(
        api.GET("/api/workspaces/{workspace}/replays/{replay}/lines", {
          params: {
            path: { workspace, replay: replay.id },
            query: { what, kind, after: pageParam },
          },
        }),
      ),
    initialPageParam: 0,
    getNextPageParam: (last) => last.next,
  });

/** What a draft would make of the last submissions. `edits`: of that draft, which tell it from another. */
export const rehearseQuery = (
  workspace: string,
  source: string,
  edits: number | undefined,
  document: Schemas["RouteDocument"] | undefined,
) =>
  // The edits tell one draft from another.
  // eslint-disable-next-line @tanstack/query/exhaustive-deps
  queryOptions({
    queryKey: ["rehearsal", workspace, source, edits],
    queryFn: document
      ? () =>
          take(
            api.POST("/api/workspaces/{workspace}/sources/{source}/rehearse", {
              params: { path: { workspace, source } },
              body: { document, most: 500 },
            }),
          )
      : skipToken,
  });
