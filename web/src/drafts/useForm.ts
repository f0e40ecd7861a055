import { useEffect, useState } from "react";
import { ApiError } from "../api/client";
import { DraftSession, type Save, type Saved } from "./DraftSession";
import { keep, letGo } from "./openSessions";
import { useSession } from "./useDraft";

/* eslint-disable @typescript-eslint/no-explicit-any -- forms of any kind, by their keys */
/** Forms that were closed with something in them that is not saved: opened again they have it still. */
const closed = new Map<string, DraftSession<any, string>>();

/**
 * A form whose settings take effect at once, so that a member saves it (`save` of what is returned).
 *
 * What is written is kept where the form is closed and opened again under the same `key`, and asked for
 * before the page is left. A save tells which version of the settings it is based on; what somebody else
 * has changed since is loaded, and both changes are kept unless they are of the same thing.
 *
 * `key`: the same as long as the form is shown. `load`: the form as it is stored now.
 */
export function useForm<Form>(
  key: string,
  stored: Saved<Form, string>,
  save: Save<Form, string>,
  load: () => Promise<Saved<Form, string>>,
) {
  const [session] = useState<DraftSession<Form, string>>(
    () => closed.get(key) ?? new DraftSession(stored, save, { byHand: true, load }),
  );
  useEffect(() => {
    closed.delete(key);
    keep(session);
    return () => {
      if (session.dirty) closed.set(key, session);
      else letGo(session);
    };
  }, [session, key]);
  const draft = useSession(session, stored, save, load);
  const { edit } = draft;
  const set = (change: Partial<Form>) => edit((before) => ({ ...before, ...change }));
  const submit = async (): Promise<boolean> => (await draft.flush()) !== undefined;
  const wrong = (place: string) =>
    draft.error instanceof ApiError ? draft.error.at(place) : undefined;
  return { ...draft, form: draft.document, set, save: submit, load, wrong };
}

export type FormDraft<Form> = ReturnType<typeof useForm<Form>>;

/** Whoever leaves means it: forms that were closed are empty again. */
export function forgetClosed(): void {
  for (const one of closed.values()) {
    one.abandon();
    letGo(one);
  }
  closed.clear();
}
