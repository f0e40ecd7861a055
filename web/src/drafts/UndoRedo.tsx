import Button from "@mui/material/Button";
import { useEffect } from "react";
import { undoKey } from "./undoKeys";

interface UndoRedoProps {
  draft: { canUndo: boolean; canRedo: boolean; undo: () => void; redo: () => void };
}

/** The ways back and forth while editing; also Ctrl+Z, and Ctrl+Shift+Z or Ctrl+Y. */
export function UndoRedo({ draft: { canUndo, canRedo, undo, redo } }: UndoRedoProps) {
  useEffect(() => {
    const onKey = (event: KeyboardEvent) => {
      const asks = undoKey(event);
      if (!asks) return;
      event.preventDefault();
      (asks === "redo" ? redo : undo)();
    };
    window.addEventListener("keydown", onKey);
    return () => window.removeEventListener("keydown", onKey);
  }, [undo, redo]);
  return (
    <>
      <Button color="inherit" disabled={!canUndo} onClick={undo} title="Ctrl+Z">
        Undo
      </Button>
      <Button color="inherit" disabled={!canRedo} onClick={redo} title="Ctrl+Shift+Z">
        Redo
      </Button>
    </>
  );
}
