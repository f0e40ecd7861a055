import { useEffect, useState, useSyncExternalStore } from "react";
import { signedOut } from "../api/signedOut";
import { DraftSession, type Save, type Saved, type SaveState } from "./DraftSession";

export type { Saved, SaveState };

/** A document that saves itself (`DraftSession`), for a screen. */
export function useDraft<Document>(stored: Saved<Document>, save: Save<Document>) {
  const [session] = useState(() => new DraftSession(stored, save));
  const shown = useSyncExternalStore(session.subscribe, session.snapshot);
  useEffect(() => session.saveWith(save), [session, save]);
  useEffect(() => session.receive(stored), [session, stored]);
  useEffect(() => () => void session.flush(), [session]);
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
  useEffect(() => {
    const warn = (event: BeforeUnloadEvent) => {
      if (!session.dirty) return;
      event.preventDefault();
      void session.flush();
    };
    window.addEventListener("beforeunload", warn);
    return () => window.removeEventListener("beforeunload", warn);
  }, [session]);
  const { edit, flush, takeOver, insist, abandon, undo, redo } = session;
  return {
    ...shown,
    edit,
    flush,
    takeOver,
    insist,
    abandon,
    undo,
    redo,
    isDirty: () => session.dirty,
  };
}

export type Draft<Document> = ReturnType<typeof useDraft<Document>>;
