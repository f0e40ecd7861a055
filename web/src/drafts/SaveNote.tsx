import Typography from "@mui/material/Typography";
import type { SaveState } from "./DraftSession";

const WORDS: Record<SaveState, string> = {
  saved: "Draft saved",
  saving: "Saving …",
  failed: "Not saved",
  conflict: "Not saved",
};

/** Says that the draft saves itself, and whether it has; only what went wrong is announced. */
export function SaveNote({ state, slow = false }: { state: SaveState; slow?: boolean }) {
  const wrong = state === "failed" || state === "conflict";
  return (
    <Typography
      variant="caption"
      {...((wrong || slow) && { role: "alert" })}
      color={wrong ? "error" : "textSecondary"}
      sx={{ whiteSpace: "nowrap" }}
    >
      {slow ? "Not saved yet: the server has not answered" : WORDS[state]}
    </Typography>
  );
}
