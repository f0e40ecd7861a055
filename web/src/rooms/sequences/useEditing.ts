import { useQueryClient } from "@tanstack/react-query";
import { useCallback, useState } from "react";
import { api, asIs, take, type Schemas } from "../../api/client";
import { useReload, useSlug } from "../../api/workspace";
import { useDraft } from "../../drafts/useDraft";
import { useSaved } from "../../drafts/useSaved";
import type { SequenceDocument, Way } from "./sequenceDocument";

type Sequence = Schemas["SequenceOut"];

/** The draft of a sequence as it is edited, and what is done with it: each act on what was seen. */
export function useEditing(sequence: Sequence) {
  const workspace = useSlug();
  const client = useQueryClient();
  const reload = useReload();
  const [missing, setMissing] = useState<Schemas["Reference"][]>([]);
  const { id } = sequence;
  const path = { workspace, sequence: id };
  const keep = useCallback(
    (answer: Sequence) => {
      // A poll that began before would put older data over these.
      void client.cancelQueries({ queryKey: ["sequence", workspace, id] });
      client.setQueryData(["sequence", workspace, id], answer);
    },
    [client, workspace, id],
  );
  const save = useCallback(
    async (document: SequenceDocument, based_on: number) => {
      const answer = await take(
        api.PUT("/api/workspaces/{workspace}/sequences/{sequence}/draft", {
          params: { path: { workspace, sequence: id } },
          body: { document, based_on },
        }),
      );
      keep(answer);
      return answer;
    },
    [workspace, id, keep],
  );
  const draft = useDraft(sequence, save);
  const { saved, failed, dismiss } = useSaved(draft);
  const load = async () => {
    const answer = await take(
      api.GET("/api/workspaces/{workspace}/sequences/{sequence}", { params: { path } }),
    );
    keep(answer);
    return answer;
  };
  const act = (asked: (based_on: number) => Promise<Sequence>) =>
    saved(async (based_on) => {
      keep(await asked(based_on));
      await reload("catalogue", "sequences", "desk");
    });
  const putIn = (content: string) =>
    saved(async (based_on) => {
      const taken = await take(
        api.PUT("/api/workspaces/{workspace}/sequences/{sequence}/document.json", {
          params: { path, query: { based_on } },
          ...asIs(content, "application/json"),
        }),
      );
      draft.takeOver(await load());
      setMissing(taken.missing);
    });
  const discard = () =>
    saved(async (based_on) => {
      await take(
        api.POST("/api/workspaces/{workspace}/sequences/{sequence}/discard", {
          params: { path },
          body: { based_on },
        }),
      );
      draft.takeOver(await load());
    });
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
  return { draft, turnOn, pause, resume, putIn, discard, load, missing, failed, dismiss };
}
