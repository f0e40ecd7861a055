import { follows } from "../../api/stream";
import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { sampleQuery } from "../../api/sources";
import { latelyQuery, seenQuery, sourceQuery } from "../../api/sources";
import { useSlug } from "../../api/workspace";
import { useSettled } from "../../parts/useSettled";
import type { Answer, RouteDocument } from "./routeDocument";

/** A source with its sheet. */
export function useSource(source: string) {
  return useQuery({
    ...sourceQuery(useSlug(), source),
    ...follows(["submissions", "drafts", "snags"], 5_000),
  });
}

/** The questions of a source as they came in lately, and lines proposed for them. */
export function useSeen(source: string) {
  return useQuery(seenQuery(useSlug(), source));
}

/** The newest submissions of a source. */
export function useLately(source: string) {
  return useQuery({
    ...latelyQuery(useSlug(), source),
    ...follows(["submissions"], 3_000),
  });
}

/** What the server decides about the sample, by the rules that will run; follows each edit. */
export function useSample(
  source: string,
  document: RouteDocument,
  answers: Answer[],
  context: Record<string, unknown>,
  ready: boolean,
) {
  const workspace = useSlug();
  const asked = { document, answers, context, ready };
  const later = useSettled(asked, 200);
  // The first one is asked for at once; an edit waits for the next keystroke.
  const settled = later.ready ? later : asked;
  return useQuery({
    ...sampleQuery(workspace, source, settled),
    enabled: settled.ready,
    placeholderData: keepPreviousData,
  });
}
