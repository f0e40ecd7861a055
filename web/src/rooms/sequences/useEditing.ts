import { api, take } from "../../api/client";
import { useReload, useSlug } from "../../api/workspace";
import { saveAll } from "../../drafts/openSessions";
import { useDocument } from "../../drafts/useDocument";
import type { Schemas } from "../../api/client";
import type { Way } from "./sequenceDocument";

/** The draft of a sequence as it is edited, and what is done with it: each act on what was seen. */
export function useEditing(sequence: Schemas["SequenceOut"]) {
  const path = { workspace: useSlug(), sequence: sequence.id };
  const editing = useDocument("sequence", sequence);
  const { act } = editing;
  const reload = useReload();
  /** Turns it on, and with it what hangs together with it. */
  const turnOn = (note: string, removed: Record<string, Way>, parts: Schemas["PartIn"][]) =>
    act(async (based_on) => {
      // An email that was written just now is part of what is turned on.
      if (!(await saveAll(false)))
        throw new Error("An email is not saved yet. Open it to see why, then turn on again.");
      await take(
        api.POST("/api/workspaces/{workspace}/sequences/{sequence}/turn-on-path", {
          params: { path },
          body: { note, based_on, removed, parts },
        }),
      );
      await reload("sources", "path", "messages");
      return take(
        api.GET("/api/workspaces/{workspace}/sequences/{sequence}", { params: { path } }),
      );
    });
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
