import { api, take } from "../../api/client";
import { useReload, useSlug } from "../../api/workspace";

/** A source that is there, or a new form with what people agree to by it; and the lane it leads to. */
export type Lead =
  { source: string; lane: string } | { new_form: string; wording: string; lane: string };

/** Lets sources lead into a sequence: it is written into their drafts, as a rule that starts it. */
export function useLeadIn(sequence: string) {
  const path = { workspace: useSlug(), sequence };
  const reload = useReload();
  const done = () => reload("sources", "path", "catalogue");
  const leadIn = async (lead: Lead) => {
    await take(
      api.POST("/api/workspaces/{workspace}/sequences/{sequence}/doors", {
        params: { path },
        body: { new_form: "", wording: "", ...lead },
      }),
    );
    await done();
  };
  const leadNoMore = async (source: string, lane: string) => {
    await take(
      api.DELETE("/api/workspaces/{workspace}/sequences/{sequence}/doors/{source}", {
        params: { path: { ...path, source }, query: { lane } },
      }),
    );
    await done();
  };
  return { leadIn, leadNoMore };
}
