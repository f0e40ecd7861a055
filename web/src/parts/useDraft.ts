import { useCallback, useEffect, useRef, useState } from "react";
import { ApiError } from "../api/client";

export interface Saved<Document> {
  document: Document;
  edits: number;
}

export type SaveState = "saved" | "saving" | "failed" | "conflict";

/**
 * A document that saves itself, half a second after the last edit. `save` is given the count
 * of edits it is based on, so that the server can notice somebody else's; what somebody else
 * has saved is taken over at once where nothing here is unsaved.
 */
export function useDraft<Document>(
  stored: Saved<Document>,
  save: (document: Document, basedOn: number) => Promise<{ edits: number }>,
) {
  const [document, setDocument] = useState(stored.document);
  const [state, setState] = useState<SaveState>("saved");
  const [error, setError] = useState<unknown>();
  const [savedEdits, setSavedEdits] = useState(stored.edits);
  const [takenOver, setTakenOver] = useState(0);
  const latest = useRef(stored.document);
  const edits = useRef(stored.edits);
  const dirty = useRef(false);
  const timer = useRef<number>(undefined);
  const running = useRef<Promise<void>>(undefined);

  /** Saves what is not saved yet; the count of edits it is then, or undefined if it is not. */
  const flush = useCallback(async (): Promise<number | undefined> => {
    window.clearTimeout(timer.current);
    await running.current;
    if (!dirty.current) return edits.current;
    dirty.current = false;
    setState("saving");
    running.current = save(latest.current, edits.current)
      .then(
        (answer) => {
          edits.current = answer.edits;
          setSavedEdits(answer.edits);
          setError(undefined);
          if (!dirty.current) setState("saved");
        },
        (caught: unknown) => {
          dirty.current = true;
          setError(caught);
          setState(caught instanceof ApiError && caught.status === 409 ? "conflict" : "failed");
        },
      )
      .finally(() => {
        running.current = undefined;
      });
    await running.current;
    return dirty.current ? undefined : edits.current;
  }, [save]);

  const edit = useCallback(
    (change: (before: Document) => Document) => {
      latest.current = change(latest.current);
      dirty.current = true;
      setDocument(latest.current);
      setState("saving");
      window.clearTimeout(timer.current);
      timer.current = window.setTimeout(() => void flush(), 500);
    },
    [flush],
  );

  /** Goes on with what is stored; what was not saved here is dropped. */
  const takeOver = useCallback((theirs: Saved<Document>) => {
    window.clearTimeout(timer.current);
    dirty.current = false;
    latest.current = theirs.document;
    edits.current = theirs.edits;
    setDocument(theirs.document);
    setSavedEdits(theirs.edits);
    setError(undefined);
    setState("saved");
    setTakenOver((times) => times + 1);
  }, []);

  /** Saves what is here over what somebody else has stored since. */
  const insist = useCallback(
    (theirs: { edits: number }) => {
      edits.current = theirs.edits;
      dirty.current = true;
      return flush();
    },
    [flush],
  );

  useEffect(() => {
    if (stored.edits > edits.current && !dirty.current && !running.current) takeOver(stored);
  }, [stored, takeOver]);
  useEffect(() => () => void flush(), [flush]);
  useEffect(() => {
    const warn = (event: BeforeUnloadEvent) => {
      if (dirty.current) event.preventDefault();
    };
    window.addEventListener("beforeunload", warn);
    return () => window.removeEventListener("beforeunload", warn);
  }, []);

  return { document, edit, flush, takeOver, insist, state, error, savedEdits, takenOver };
}
