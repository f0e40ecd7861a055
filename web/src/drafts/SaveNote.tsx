import Typography from "@mui/material/Typography";
import type { SaveState } from "./DraftSession";

const WORDS: Record<SaveState, string> = {
  saved: "Draft saved",
  saving: "Saving …",
  unsaved: "Not saved yet",
  failed: "Not saved",
  conflict: "Not saved",
};

interface SaveNoteProps {
  state: SaveState;
  slow?: boolean;
  /** What it says once all is saved. */
  saved?: string;
}

/** Says that the draft saves itself, and whether it has; only what went wrong is announced. */
export function SaveNote({ state, slow = false, saved = WORDS.saved }: SaveNoteProps) {
  const wrong = state === "failed" || state === "conflict";
  return (
    <Typography
      variant="caption"
      {...((wrong || slow) && { role: "alert" })}
      color={wrong ? "error" : "textSecondary"}
      sx={{ whiteSpace: "nowrap" }}
    >
      {slow
        ? "Not saved yet: the server has not answered"
        : state === "saved"
          ? saved
          : WORDS[state]}
    </Typography>
  );
}
