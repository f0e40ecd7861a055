import { useQueryClient } from "@tanstack/react-query";
import { useCallback, useMemo, useState } from "react";
import { ApiError, type Schemas } from "../api/client";
import { isSame } from "./isSame";
import { DOCUMENTS, type DocumentCalls, type DocumentKind, type Stored } from "../api/documents";
import { useReload, useSlug } from "../api/workspace";
import { useDraft } from "./useDraft";
import { useSaved } from "./useSaved";

/** What changes elsewhere when something is done with a document of a kind. */
const RELOADS: Record<DocumentKind, string[]> = {
  source: ["sources", "desk"],
  sequence: ["catalogue", "sequences", "desk"],
  message: ["messages"],
  audience: ["audiences"],
  broadcast: ["broadcasts"],
};

/** What pre-flight of something else says of it: looked at anew with every answer. A save may come to its
 * end when nothing shows the thing any more. */
const LOOKED_AT_BY: Record<DocumentKind, string[]> = {
  source: ["path"],
  sequence: [],
  message: ["path", "broadcast", "broadcast-plan", "broadcast-person"],
  audience: [],
  broadcast: [],
};

/**
 * The document of a source, a sequence or a message while it is edited: a draft that saves itself,
 * and what is done with it, each on what was seen. `stored`: the thing as its query has it, which
 * every answer of the server replaces.
 */
export function useDocument<Kind extends DocumentKind>(kind: Kind, stored: Stored[Kind]) {
  type Answer = Stored[Kind];
  const workspace = useSlug();
  const client = useQueryClient();
  const reload = useReload();
  const [missing, setMissing] = useState<Schemas["Reference"][]>([]);
  const { id } = stored;
  // The registry has calls of this very kind, which TypeScript cannot follow through the union.
  const calls = useMemo(
    () => DOCUMENTS[kind](workspace, id) as unknown as DocumentCalls<Answer>,
    [kind, workspace, id],
  );
  const keep = useCallback(
    (answer: Answer) => {
      // A poll that began before would put older data over these.
      void client.cancelQueries({ queryKey: calls.queryKey, exact: true });
      client.setQueryData(calls.queryKey, answer);
      for (const key of LOOKED_AT_BY[kind]) void client.invalidateQueries({ queryKey: [key] });
      return answer;
    },
    [client, calls, kind],
  );
  const save = useCallback(
    async (document: Answer["document"], based_on: number) =>
      keep(
        await calls.save(document, based_on).catch(async (caught: unknown) => {
          if (!(caught instanceof ApiError && caught.status === 409)) throw caught;
          // The answer to a save before was perhaps lost: what is stored is what is here.
          const there = await calls.load();
          if (!isSame(there.document, document)) throw caught;
          return there;
        }),
      ),
    [calls, keep],
  );
  const draft = useDraft<Answer["document"]>(stored, save);
  const { saved, failed, dismiss } = useSaved(draft);
  const load = async () => keep(await calls.load());
  /** Does something with the thing, and takes over what the server says of it. */
  const act = (asked: (based_on: number) => Promise<Answer>) =>
    saved(async (based_on) => {
      keep(await asked(based_on));
      await reload(...RELOADS[kind]);
    });
  const discard = () =>
    saved(async (based_on) => {
      await calls.discard(based_on);
      draft.takeOver(await load());
    });
  const putIn = (content: string) =>
    saved(async (based_on) => {
      setMissing([]);
      const taken = await calls.putIn?.(content, based_on);
      draft.takeOver(await load());
      setMissing(taken?.missing ?? []);
    });
  return {
    draft,
    compare: calls.differences,
    keep,
    load,
    act,
    saved,
    discard,
    putIn,
    missing,
    failed,
    dismiss,
  };
}
