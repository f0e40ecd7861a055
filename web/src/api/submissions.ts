import { infiniteQueryOptions, queryOptions } from "@tanstack/react-query";
import { api, take } from "./client";

/** A submission with what became of it. */
export const submissionQuery = (workspace: string, submission: string) =>
  queryOptions({
    queryKey: ["submission", workspace, submission],
    queryFn: () =>
      take(
        api.GET("/api/workspaces/{workspace}/submissions/{submission}", {
          params: { path: { workspace, submission } },
        }),
      ),
  });

/** What routing would make of a submission that waits or is held. */
export const foreseenQuery = (workspace: string, submission: string) =>
  queryOptions({
    queryKey: ["foreseen", workspace, submission],
    queryFn: () =>
      take(
        api.GET("/api/workspaces/{workspace}/submissions/{submission}/foreseen", {
          params: { path: { workspace, submission } },
        }),
      ),
  });

/** The submissions that a filter names, page by page. */
export const submissionsQuery = (workspace: string, filter: Record<string, string>) =>
  infiniteQueryOptions({
    queryKey: ["submissions", workspace, "all", filter],
    queryFn: ({ pageParam }) =>
      take(
        api.GET("/api/workspaces/{workspace}/submissions", {
          params: {
            path: { workspace },
            query: { ...filter, ...(pageParam && { after: pageParam }) },
          },
        }),
      ),
    initialPageParam: "",
    getNextPageParam: (last) => last.next,
  });
