import Typography from "@mui/material/Typography";
import type { SaveState } from "./useDraft";

const WORDS: Record<SaveState, string> = {
  saved: "Draft saved",
  saving: "Saving …",
  failed: "Not saved",
  conflict: "Not saved",
};

/** Says that the draft saves itself, and whether it has. */
export function SaveNote({ state }: { state: SaveState }) {
  return (
    <Typography
      variant="caption"
      role="status"
      color={state === "saved" || state === "saving" ? "textSecondary" : "error"}
      sx={{ whiteSpace: "nowrap" }}
    >
      {WORDS[state]}
    </Typography>
  );
}
