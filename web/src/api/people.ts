import { infiniteQueryOptions, queryOptions } from "@tanstack/react-query";
import { api, take } from "./client";
import type { paths } from "./schema";
import { follows, type Topic } from "./stream";

type Asked =
  paths["/api/workspaces/{workspace}/conditions/count"]["post"]["requestBody"]["content"]["application/json"];
type Merging =
  paths["/api/workspaces/{workspace}/people/{person}/merge-preview"]["post"]["requestBody"]["content"]["application/json"];
/** A part of a trail. */
export type TrailPart = NonNullable<
  NonNullable<
    paths["/api/workspaces/{workspace}/people/{person}/trail"]["get"]["parameters"]["query"]
  >["what"]
>;

/** Whatever may change what is known of a person. */
const OF_PERSON: Topic[] = ["people", "submissions", "runs", "mail", "services", "replays"];

/** Who was added last. */
export const newestPeopleQuery = (workspace: string) =>
  queryOptions({
    queryKey: ["people", workspace, "newest"],
    queryFn: () =>
      take(
        api.GET("/api/workspaces/{workspace}/people", {
          params: { path: { workspace }, query: {} },
        }),
      ),
  });

/** How many people a condition fits. */
export const countQuery = (workspace: string, settled: Asked["condition"]) =>
  queryOptions({
    queryKey: ["people", workspace, "count", settled],
    queryFn: () =>
      take(
        api.POST("/api/workspaces/{workspace}/conditions/count", {
          params: { path: { workspace } },
          body: { condition: settled },
        }),
      ),
  });

/** A person with all that is known. */
export const personQuery = (workspace: string, person: string) =>
  queryOptions({
    queryKey: ["person", workspace, person],
    queryFn: () =>
      take(
        api.GET("/api/workspaces/{workspace}/people/{person}", {
          params: { path: { workspace, person } },
        }),
      ),
    ...follows(OF_PERSON, 3_000),
  });

/** People who a search finds. */
export const foundQuery = (workspace: string, settled: string) =>
  queryOptions({
    queryKey: ["people", workspace, "to merge", settled],
    queryFn: () =>
      take(
        api.GET("/api/workspaces/{workspace}/people", {
          params: { path: { workspace }, query: { search: settled } },
        }),
      ),
  });

/** What a merge would keep. */
export const mergeQuery = (
  workspace: string,
  person: string,
  other: string | undefined,
  fields: Merging["fields"],
) =>
  queryOptions({
    queryKey: ["merge", workspace, person, other, fields],
    queryFn: () =>
      take(
        api.POST("/api/workspaces/{workspace}/people/{person}/merge-preview", {
          params: { path: { workspace, person } },
          body: { other: other ?? "", fields },
        }),
      ),
  });

/** Merges that can be undone. */
export const mergesQuery = (workspace: string, person: string) =>
  queryOptions({
    queryKey: ["person", workspace, person, "merges"],
    queryFn: () =>
      take(
        api.GET("/api/workspaces/{workspace}/people/{person}/merges", {
          params: { path: { workspace, person } },
        }),
      ),
  });

/** Where a person is in each sequence. */
export const personRunsQuery = (workspace: string, person: string) =>
  queryOptions({
    queryKey: ["person", workspace, person, "runs"],
    queryFn: () =>
      take(
        api.GET("/api/workspaces/{workspace}/people/{person}/runs", {
          params: { path: { workspace, person } },
        }),
      ),
  });

/** What happened to a person, the newest first, page by page. */
export const trailQuery = (workspace: string, person: string, what: TrailPart | "") =>
  infiniteQueryOptions({
    queryKey: ["trail", workspace, person, what],
    queryFn: ({ pageParam }) =>
      take(
        api.GET("/api/workspaces/{workspace}/people/{person}/trail", {
          params: {
            path: { workspace, person },
            query: { ...(what && { what }), ...(pageParam && { after: pageParam }) },
          },
        }),
      ),
    initialPageParam: "",
    getNextPageParam: (last) => last.next,
    ...follows(OF_PERSON, 3_000),
  });

/** What members have to do: about one person, or all of it. */
export const tasksQuery = (workspace: string, person?: string) =>
  queryOptions({
    queryKey: ["tasks", workspace, person],
    queryFn: () =>
      take(
        api.GET("/api/workspaces/{workspace}/tasks", {
          params: { path: { workspace }, query: person ? { person } : {} },
        }),
      ),
  });

/** People by a search, a tag, a list or a condition, page by page. */
export const peopleQuery = (
  workspace: string,
  search: string,
  condition: Asked["condition"] | null | undefined,
) =>
  infiniteQueryOptions({
    queryKey: ["people", workspace, search, condition],
    queryFn: ({ pageParam }) => {
      const path = { workspace };
      const page = { search, ...(pageParam && { after: pageParam }) };
      return take(
        condition
          ? api.POST("/api/workspaces/{workspace}/conditions/people", {
              params: { path },
              body: { condition, ...page },
            })
          : api.GET("/api/workspaces/{workspace}/people", {
              params: { path, query: page },
            }),
      );
    },
    initialPageParam: "",
    getNextPageParam: (last) => last.next,
    ...follows(["people"], 5_000),
  });
