import { follows } from "../../api/stream";
import { parseAsString, useQueryStates } from "nuqs";
import { keepPreviousData, useInfiniteQuery } from "@tanstack/react-query";
import { submissionsQuery } from "../../api/submissions";
import { useSlug } from "../../api/workspace";

const text = parseAsString.withDefault("");
const FILTER = {
  source: text,
  file_import: text,
  state: text,
  first_day: text,
  last_day: text,
  text,
  tests: text,
};

/** The filter that the address of the screen holds; empty is what it does not filter by. */
export function useFilter() {
  return useQueryStates(FILTER);
}

/** What a filter filters by. */
export function chosenOf(filter: Record<string, string>): Record<string, string> {
  return Object.fromEntries(Object.entries(filter).filter(([, value]) => value !== ""));
}

/** The submissions that a filter names, the newest first, page by page. */
export function useSubmissions(filter: Record<string, string>) {
  const workspace = useSlug();
  return useInfiniteQuery({
    ...submissionsQuery(workspace, filter),
    placeholderData: keepPreviousData,
    ...follows(["submissions"], 3_000),
  });
}
