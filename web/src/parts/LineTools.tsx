import Button from "@mui/material/Button";
import Stack from "@mui/material/Stack";
import type { MouseEvent } from "react";

interface LineToolsProps {
  /** What the line is, for the names of the buttons. */
  name: string;
  onEdit?: () => void;
  onUp?: () => void;
  onDown?: () => void;
  onRemove: () => void;
}

/** What can be done with a line: edit, move, remove. */
export function LineTools({ name, onEdit, onUp, onDown, onRemove }: LineToolsProps) {
  /** Moves the line, and keeps the focus on the button that moved it. */
  const moving = (move: (() => void) | undefined) =>
    move &&
    ((event: MouseEvent<HTMLElement>) => {
      const button = event.currentTarget;
      move();
      window.setTimeout(() => button.focus());
    });
  /** Removes the line; the focus goes to the one that follows, or else to the one before. */
  const remove = (event: MouseEvent<HTMLElement>) => {
    const line = event.currentTarget.closest("[data-line]");
    const near = line?.nextElementSibling ?? line?.previousElementSibling ?? line?.parentElement;
    onRemove();
    window.setTimeout(() => near?.querySelector<HTMLElement>("button, input, [href]")?.focus());
  };
  return (
    <Stack direction="row" sx={{ ml: "auto !important", flexShrink: 0 }}>
      {onEdit && (
        <Button data-opens onClick={onEdit} aria-label={`Edit ${name}`}>
          Edit
        </Button>
      )}
      {(onUp !== undefined || onDown !== undefined) && (
        <>
          <Button
            onClick={moving(onUp)}
            disabled={!onUp}
            aria-label={`Move ${name} up`}
            sx={{ minWidth: 28 }}
          >
            ↑
          </Button>
          <Button
            onClick={moving(onDown)}
            disabled={!onDown}
            aria-label={`Move ${name} down`}
            sx={{ minWidth: 28 }}
          >
            ↓
          </Button>
        </>
      )}
      <Button onClick={remove} aria-label={`Remove ${name}`} color="inherit">
        Remove
      </Button>
    </Stack>
  );
}
