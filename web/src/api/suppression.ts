import { infiniteQueryOptions } from "@tanstack/react-query";
import { api, take } from "./client";

/** Who is on the suppression list, page by page. */
export const suppressionQuery = (workspace: string, wanted: string) =>
  infiniteQueryOptions({
    queryKey: ["suppression", workspace, wanted],
    queryFn: ({ pageParam }) =>
      take(
        api.GET("/api/workspaces/{workspace}/suppression", {
          params: {
            path: { workspace },
            query: { search: wanted, ...(pageParam && { after: pageParam }) },
          },
        }),
      ),
    initialPageParam: "",
    getNextPageParam: (last) => last.next,
  });
