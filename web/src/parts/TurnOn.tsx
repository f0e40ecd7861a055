import { counted } from "./formats";
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Dialog from "@mui/material/Dialog";
import DialogActions from "@mui/material/DialogActions";
import DialogContent from "@mui/material/DialogContent";
import DialogTitle from "@mui/material/DialogTitle";
import TextField from "@mui/material/TextField";
import Typography from "@mui/material/Typography";
import { useState, type ReactNode } from "react";
import type { Schemas } from "../api/client";

interface TurnOnProps {
  /** It is live already, and the draft would replace what is live. */
  again: boolean;
  /** What pre-flight found: some of it stops, the rest is to be seen before. */
  findings: Schemas["Finding"][];
  disabled: boolean;
  /** What the draft has different from what is live, in sentences. */
  changes?: string[];
  /** What becomes of people who are in it. */
  says?: string | undefined;
  /** What is chosen besides. */
  more?: ReactNode;
  /** Whether a note for the history is asked for. */
  withNote?: boolean;
  /** Whether it was done; why not is shown by the sheet, and the note stays. */
  onTurnOn: (note: string) => Promise<boolean>;
  /** Goes to what pre-flight found. */
  onSee?: ((finding: Schemas["Finding"]) => void) | undefined;
}

/** In the hand the one thing to press stays at the bottom of the screen. */
const ONE_BAR_ON_A_PHONE = {
  position: { xs: "fixed", sm: "static" },
  bottom: 0,
  left: 0,
  right: 0,
  zIndex: 6,
  height: { xs: 56, sm: "auto" },
  px: { xs: 2, sm: 0 },
  display: "flex",
  alignItems: "center",
  bgcolor: { xs: "background.default", sm: "transparent" },
  borderTop: { xs: 1, sm: 0 },
  borderColor: "divider",
};

/** Makes the draft live, with a note for the history. */
export function TurnOn(props: TurnOnProps) {
  const { again, findings, disabled, changes = [], says, more, withNote = true } = props;
  const { onTurnOn, onSee } = props;
  const stopped = findings.filter((one) => one.stops).length;
  const [asking, setAsking] = useState(false);
  const [note, setNote] = useState("");
  const [busy, setBusy] = useState(false);
  const [failed, setFailed] = useState(false);
  const word = !again
    ? "Turn on"
    : `Turn on ${changes.length > 0 ? counted(changes.length, "change", "changes") : "changes"}`;
  const turnOn = async () => {
    setBusy(true);
    const done = await onTurnOn(note);
    setBusy(false);
    setFailed(!done);
    if (!done) return;
    setNote("");
    setAsking(false);
  };
  return (
    <>
      <Box sx={ONE_BAR_ON_A_PHONE}>
        <Button
          variant="contained"
          disabled={disabled}
          onClick={() => setAsking(true)}
          sx={{ width: { xs: 1, sm: "auto" } }}
        >
          {word}
        </Button>
      </Box>
      <Dialog open={asking} onClose={() => setAsking(false)} fullWidth maxWidth="xs">
        <DialogTitle>{word}</DialogTitle>
        <DialogContent>
          {stopped > 0 ? (
            <>
              <Typography color="error" sx={{ mb: 1 }}>
                {counted(stopped, "problem", "problems")} to fix first:
              </Typography>
              {findings
                .filter((one) => one.stops)
                .map((one) => (
                  <Box key={one.code + one.place} sx={{ mb: 1 }}>
                    <Typography variant="body2">{one.sentence}</Typography>
                    <Typography variant="body2" color="textSecondary">
                      {one.fix}{" "}
                      {onSee && (
                        <Button
                          onClick={() => {
                            setAsking(false);
                            onSee(one);
                          }}
                        >
                          Go there
                        </Button>
                      )}
                    </Typography>
                  </Box>
                ))}
            </>
          ) : (
            <>
              <Typography variant="body2" sx={{ mb: 2 }}>
                {again
                  ? "The draft becomes the live revision; the one before stays in the history."
                  : "What comes in is decided by this sheet from now on."}{" "}
                {says}
              </Typography>
              {changes.slice(0, 12).map((one) => (
                <Typography key={one} variant="body2" color="textSecondary">
                  {one}
                </Typography>
              ))}
              {changes.length > 12 && (
                <Typography variant="body2">and {changes.length - 12} more changes</Typography>
              )}
              {findings.map((one) => (
                <Typography
                  key={one.code + one.place}
                  variant="body2"
                  color="warning"
                  sx={{ mb: 1 }}
                >
                  {one.sentence}
                </Typography>
              ))}
              {more}
              {withNote && (
                <TextField
                  sx={{ mt: 1 }}
                  label="Note for the history"
                  value={note}
                  onChange={(event) => setNote(event.target.value)}
                  helperText="What changed (optional)"
                />
              )}
              {failed && (
                <Typography color="error" role="alert" sx={{ mt: 1 }}>
                  It was not turned on. The sheet behind this dialog says why; try again in a
                  moment.
                </Typography>
              )}
            </>
          )}
        </DialogContent>
        <DialogActions>
          <Button onClick={() => setAsking(false)}>Cancel</Button>
          <Button variant="contained" disabled={busy || stopped > 0} onClick={() => void turnOn()}>
            {word}
          </Button>
        </DialogActions>
      </Dialog>
    </>
  );
}
