import { api, take } from "../../api/client";
import { useReload, useSlug } from "../../api/workspace";

/** Lets sources lead into a sequence: it is written into their drafts, as a rule that starts it. */
export function useLeadIn(sequence: string) {
  const path = { workspace: useSlug(), sequence };
  const reload = useReload();
  const done = () => reload("sources", "catalogue");
  /** A source that is there, or a form of that name, which is made. */
  const leadIn = async (lead: { source: string } | { new_form: string }, lane: string) => {
    await take(
      api.POST("/api/workspaces/{workspace}/sequences/{sequence}/doors", {
        params: { path },
        body: { new_form: "", ...lead, lane },
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
