import { api, take } from "../../api/client";
import { useSlug } from "../../api/workspace";
import { useDocument } from "../../drafts/useDocument";
import type { Schemas } from "../../api/client";
import type { Way } from "./sequenceDocument";

/** The draft of a sequence as it is edited, and what is done with it: each act on what was seen. */
export function useEditing(sequence: Schemas["SequenceOut"]) {
  const path = { workspace: useSlug(), sequence: sequence.id };
  const editing = useDocument("sequence", sequence);
  const { act } = editing;
  const turnOn = (note: string, removed: Record<string, Way>) =>
    act((based_on) =>
      take(
        api.POST("/api/workspaces/{workspace}/sequences/{sequence}/turn-on", {
          params: { path },
          body: { note, based_on, removed },
        }),
      ),
    );
  const pause = () =>
    act(() =>
      take(
        api.POST("/api/workspaces/{workspace}/sequences/{sequence}/pause", { params: { path } }),
      ),
    );
  const resume = (spread_hours: number) =>
    act(() =>
      take(
        api.POST("/api/workspaces/{workspace}/sequences/{sequence}/resume-over", {
          params: { path },
          body: { spread_hours },
        }),
      ),
    );
  return { ...editing, turnOn, pause, resume };
}
