import { useEffect, useState, useSyncExternalStore } from "react";
import { signedOut } from "../api/signedOut";
import { DraftSession, type Edits, type Save, type Saved, type SaveState } from "./DraftSession";
import { keep, letGo } from "./openSessions";

export type { Saved, SaveState };

/** A document that saves itself (`DraftSession`), for a screen. */
export function useDraft<Document, Of extends Edits = number>(
  stored: Saved<Document, Of>,
  save: Save<Document, Of>,
  load?: () => Promise<Saved<Document, Of>>,
) {
  const [session] = useState(() => new DraftSession(stored, save, load && { load }));
  useEffect(() => {
    keep(session);
    return () => {
      void session.flush();
      letGo(session);
    };
  }, [session]);
  return useSession(session, stored, save, load);
}

/** What a screen sees of a session, and does with it. */
export function useSession<Document, Of extends Edits>(
  session: DraftSession<Document, Of>,
  stored: Saved<Document, Of>,
  save: Save<Document, Of>,
  load?: () => Promise<Saved<Document, Of>>,
) {
  const shown = useSyncExternalStore(session.subscribe, session.snapshot);
  useEffect(() => session.saveWith(save, load), [session, save, load]);
  useEffect(() => session.receive(stored), [session, stored]);
  // What kept a save from getting through may be over.
  useEffect(() => {
    const seen = () => document.visibilityState === "visible" && session.retry();
    window.addEventListener("online", session.retry);
    document.addEventListener("visibilitychange", seen);
    const off = signedOut.subscribe(() => !signedOut.now() && session.retry());
    return () => {
      window.removeEventListener("online", session.retry);
      document.removeEventListener("visibilitychange", seen);
      off();
    };
  }, [session]);
  const { edit, flush, takeOver, insist, revert, abandon, undo, redo } = session;
  return {
    ...shown,
    edit,
    flush,
    takeOver,
    insist,
    revert,
    abandon,
    undo,
    redo,
    isDirty: () => session.dirty,
  };
}

export type Draft<Document, Of extends Edits = number> = ReturnType<
  typeof useSession<Document, Of>
>;
