import Button from "@mui/material/Button";
import Stack from "@mui/material/Stack";

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
  return (
    <Stack direction="row" sx={{ ml: "auto !important", flexShrink: 0 }}>
      {onEdit && (
        <Button onClick={onEdit} aria-label={`Edit ${name}`}>
          Edit
        </Button>
      )}
      {(onUp !== undefined || onDown !== undefined) && (
        <>
          <Button
            onClick={onUp}
            disabled={!onUp}
            aria-label={`Move ${name} up`}
            sx={{ minWidth: 28 }}
          >
            ↑
          </Button>
          <Button
            onClick={onDown}
            disabled={!onDown}
            aria-label={`Move ${name} down`}
            sx={{ minWidth: 28 }}
          >
            ↓
          </Button>
        </>
      )}
      <Button onClick={onRemove} aria-label={`Remove ${name}`} color="inherit">
        Remove
      </Button>
    </Stack>
  );
}
