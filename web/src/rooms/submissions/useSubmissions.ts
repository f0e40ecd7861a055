import { keepPreviousData, useInfiniteQuery } from "@tanstack/react-query";
import { submissionsQuery } from "../../api/submissions";
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
    ...submissionsQuery(workspace, filter),
    placeholderData: keepPreviousData,
    refetchInterval: 5_000,
  });
}
