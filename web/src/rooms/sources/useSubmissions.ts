import { keepPreviousData, useInfiniteQuery } from "@tanstack/react-query";
import { api, take } from "../../api/client";
import { useSlug } from "../../api/workspace";

const NAMES = ["source", "file_import", "state", "first_day", "last_day", "text", "tests"] as const;

/** The filter that the address of the screen holds. */
export function filterOf(params: URLSearchParams): Record<string, string> {
  const found: Record<string, string> = {};
  for (const name of NAMES) {
    const value = params.get(name);
    if (value) found[name] = value;
  }
  return found;
}

/** The submissions that a filter names, the newest first, page by page. */
export function useSubmissions(filter: Record<string, string>) {
  const workspace = useSlug();
  return useInfiniteQuery({
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
    placeholderData: keepPreviousData,
    refetchInterval: 5_000,
  });
}
