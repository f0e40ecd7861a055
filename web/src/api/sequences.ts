import { keepPreviousData, queryOptions } from "@tanstack/react-query";
import { api, take } from "./client";
import type { paths } from "./schema";

type RunsAsked = NonNullable<
  paths["/api/workspaces/{workspace}/sequences/{sequence}/runs"]["get"]["parameters"]["query"]
>;
type Rehearsing =
  paths["/api/workspaces/{workspace}/sequences/{sequence}/rehearsal"]["post"]["requestBody"]["content"]["application/json"];

/** Who members let into a sequence lately. */
export const admissionsQuery = (workspace: string, sequence: string) =>
  queryOptions({
    queryKey: ["admissions", workspace, sequence],
    queryFn: () =>
      take(
        api.GET("/api/workspaces/{workspace}/sequences/{sequence}/admissions", {
          params: { path: { workspace, sequence } },
        }),
      ),
  });

/** What will be sent in the next days. */
export const aheadQuery = (workspace: string) =>
  queryOptions({
    queryKey: ["ahead", workspace],
    queryFn: () =>
      take(api.GET("/api/workspaces/{workspace}/ahead", { params: { path: { workspace } } })),
  });

/** What the draft of a sequence would alter for those under way. */
export const changeAheadQuery = (workspace: string, sequence: string) =>
  queryOptions({
    queryKey: ["change-ahead", workspace, sequence],
    queryFn: () =>
      take(
        api.GET("/api/workspaces/{workspace}/sequences/{sequence}/change-ahead", {
          params: { path: { workspace, sequence } },
        }),
      ),
    gcTime: 0,
  });

/** How a sequence went between two days. */
export const figuresQuery = (workspace: string, sequence: string, since: string, until: string) =>
  queryOptions({
    queryKey: ["sequence", workspace, sequence, "figures", since, until],
    queryFn: () =>
      take(
        api.GET("/api/workspaces/{workspace}/sequences/{sequence}/figures", {
          params: {
            path: { workspace, sequence },
            query: {
              ...(since && { since: `${since}T00:00:00Z` }),
              ...(until && { until: `${until}T00:00:00Z` }),
            },
          },
        }),
      ),
  });

/** Who is at a place of a sequence. */
export const runsThereQuery = (
  workspace: string,
  sequence: string,
  filter: RunsAsked,
  after: RunsAsked["after"],
) =>
  queryOptions({
    queryKey: ["runs", workspace, sequence, filter, after],
    queryFn: () =>
      take(
        api.GET("/api/workspaces/{workspace}/sequences/{sequence}/runs", {
          params: { path: { workspace, sequence }, query: { ...filter, after } },
        }),
      ),
  });

/** A revision of a sequence. */
export const sequenceRevisionQuery = (workspace: string, sequence: string, number: number) =>
  queryOptions({
    queryKey: ["sequence-revision", workspace, sequence, number],
    queryFn: () =>
      take(
        api.GET("/api/workspaces/{workspace}/sequences/{sequence}/revisions/{number}", {
          params: { path: { workspace, sequence, number } },
        }),
      ),
  });

/** The sequences. */
export const sequencesQuery = (workspace: string) =>
  queryOptions({
    queryKey: ["sequences", workspace],
    queryFn: () =>
      take(api.GET("/api/workspaces/{workspace}/sequences", { params: { path: { workspace } } })),
  });

/** The sequences to begin from. */
export const startsQuery = (workspace: string) =>
  queryOptions({
    queryKey: ["sequence-starts", workspace],
    queryFn: () =>
      take(
        api.GET("/api/workspaces/{workspace}/sequence-starts", {
          params: { path: { workspace } },
        }),
      ),
    staleTime: Infinity,
  });

/** What somebody would get of a sequence, and when. */
export const rehearsalQuery = (
  workspace: string,
  sequence: { id: string; edits: number },
  asked: Rehearsing,
) =>
  queryOptions({
    queryKey: ["sequence-rehearsal", workspace, sequence.id, sequence.edits, asked],
    queryFn: () =>
      take(
        api.POST("/api/workspaces/{workspace}/sequences/{sequence}/rehearsal", {
          params: { path: { workspace, sequence: sequence.id } },
          body: asked,
        }),
      ),
  });

/** A sequence with its sheet and counts. */
export const sequenceQuery = (workspace: string, sequence: string) =>
  queryOptions({
    queryKey: ["sequence", workspace, sequence],
    queryFn: () =>
      take(
        api.GET("/api/workspaces/{workspace}/sequences/{sequence}", {
          params: { path: { workspace, sequence } },
        }),
      ),
  });

/** After how many emails of each message a goal was reached. */
export const goalsAfterQuery = (workspace: string) =>
  queryOptions({
    queryKey: ["goals-after", workspace],
    queryFn: () =>
      take(api.GET("/api/workspaces/{workspace}/goals-after", { params: { path: { workspace } } })),
  });

/** The drafts that hang together with a sequence, once its own draft has so many edits. */
export const pathQuery = (workspace: string, sequence: string, edits: number) =>
  queryOptions({
    queryKey: ["path", workspace, sequence, edits],
    queryFn: () =>
      take(
        api.GET("/api/workspaces/{workspace}/sequences/{sequence}/path", {
          params: { path: { workspace, sequence } },
        }),
      ),
    placeholderData: keepPreviousData,
  });

/** The sources that lead into a sequence. */
export const doorsQuery = (workspace: string, sequence: string) =>
  queryOptions({
    queryKey: ["sources", workspace, "doors", sequence],
    queryFn: () =>
      take(
        api.GET("/api/workspaces/{workspace}/sequences/{sequence}/doors", {
          params: { path: { workspace, sequence } },
        }),
      ),
  });
