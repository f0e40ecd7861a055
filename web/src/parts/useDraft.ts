import { useCallback, useEffect, useRef, useState } from "react";

interface Saved {
  edits: number;
}

export type SaveState = "saved" | "saving" | "failed";

/**
 * A document that saves itself, half a second after the last edit. `save` is given the count
 * of edits it is based on, so that the server can notice somebody else's.
 */
export function useDraft<Document, Stored extends Saved>(
  stored: { document: Document; edits: number },
  save: (document: Document, basedOn: number) => Promise<Stored>,
) {
  const [document, setDocument] = useState(stored.document);
  const [state, setState] = useState<SaveState>("saved");
  const [error, setError] = useState<unknown>();
  const [savedEdits, setSavedEdits] = useState(stored.edits);
  const latest = useRef(stored.document);
  const edits = useRef(stored.edits);
  const dirty = useRef(false);
  const timer = useRef<number>(undefined);
  const running = useRef<Promise<void>>(undefined);

  const flush = useCallback(async (): Promise<void> => {
    window.clearTimeout(timer.current);
    await running.current;
    if (!dirty.current) return;
    dirty.current = false;
    setState("saving");
    running.current = save(latest.current, edits.current).then(
      (answer) => {
        edits.current = answer.edits;
        setSavedEdits(answer.edits);
        setError(undefined);
        if (!dirty.current) setState("saved");
      },
      (caught: unknown) => {
        dirty.current = true;
        setError(caught);
        setState("failed");
      },
    );
    await running.current;
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

  useEffect(() => () => void flush(), [flush]);
  useEffect(() => {
    const warn = (event: BeforeUnloadEvent) => {
      if (dirty.current) event.preventDefault();
    };
    window.addEventListener("beforeunload", warn);
    return () => window.removeEventListener("beforeunload", warn);
  }, []);

  /** After turning on: the draft is gone, and the next edit begins a new one. */
  const restart = useCallback((answer: Saved) => {
    edits.current = answer.edits;
  }, []);

  return { document, edit, flush, restart, state, error, savedEdits };
}
