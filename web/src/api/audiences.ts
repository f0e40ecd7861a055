import { queryOptions } from "@tanstack/react-query";
import { api, take, type Schemas } from "./client";

type Group = Schemas["AudienceDocument"]["who"];

/** All audiences, with what each held when it was counted last. */
export const audiencesQuery = (workspace: string) =>
  queryOptions({
    queryKey: ["audiences", workspace],
    queryFn: () =>
      take(api.GET("/api/workspaces/{workspace}/audiences", { params: { path: { workspace } } })),
  });

/** An audience with what it asks. */
export const audienceQuery = (workspace: string, audience: string) =>
  queryOptions({
    queryKey: ["audience", workspace, audience],
    queryFn: () =>
      take(
        api.GET("/api/workspaces/{workspace}/audiences/{audience}", {
          params: { path: { workspace, audience } },
        }),
      ),
  });

/** A revision of an audience. */
export const audienceRevisionQuery = (workspace: string, audience: string, number: number) =>
  queryOptions({
    queryKey: ["audience-revision", workspace, audience, number],
    queryFn: () =>
      take(
        api.GET("/api/workspaces/{workspace}/audiences/{audience}/revisions/{number}", {
          params: { path: { workspace, audience, number } },
        }),
      ),
  });

/** How many an audience holds now, counted anew. */
export const audienceCountQuery = (workspace: string, audience: string) =>
  queryOptions({
    queryKey: ["people", workspace, "audience", audience],
    queryFn: () =>
      take(
        api.POST("/api/workspaces/{workspace}/audiences/{audience}/count", {
          params: { path: { workspace, audience } },
        }),
      ),
    // Few are counted at once: the others come to their turn.
    retry: 4,
    retryDelay: 2_000,
  });

/** How many a condition fits, of how many, and to which lists these are subscribed. */
export const sizeQuery = (workspace: string, condition: Group) =>
  queryOptions({
    queryKey: ["people", workspace, "size", condition],
    queryFn: () =>
      take(
        api.POST("/api/workspaces/{workspace}/conditions/size", {
          params: { path: { workspace } },
          body: { condition },
        }),
      ),
  });

/** Ten whom a condition fits, and some who miss one part of it, each with why. */
export const examplesQuery = (workspace: string, condition: Group) =>
  queryOptions({
    queryKey: ["people", workspace, "examples", condition],
    queryFn: () =>
      take(
        api.POST("/api/workspaces/{workspace}/conditions/examples", {
          params: { path: { workspace } },
          body: { condition },
        }),
      ),
  });
