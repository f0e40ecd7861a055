import Button from "@mui/material/Button";
import Dialog from "@mui/material/Dialog";
import DialogActions from "@mui/material/DialogActions";
import DialogContent from "@mui/material/DialogContent";
import DialogTitle from "@mui/material/DialogTitle";
import TextField from "@mui/material/TextField";
import Typography from "@mui/material/Typography";
import { useState } from "react";
import type { Schemas } from "../api/client";
import { counted } from "./moment";

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
  onTurnOn: (note: string) => Promise<void>;
}

/** Makes the draft live, with a note for the history. */
export function TurnOn({ again, findings, disabled, changes = [], says, onTurnOn }: TurnOnProps) {
  const stopped = findings.filter((one) => one.stops).length;
  const [asking, setAsking] = useState(false);
  const [note, setNote] = useState("");
  const [busy, setBusy] = useState(false);
  const word = again ? "Turn on changes" : "Turn on";
  const turnOn = async () => {
    setBusy(true);
    await onTurnOn(note);
    setBusy(false);
    setNote("");
    setAsking(false);
  };
  return (
    <>
      <Button variant="contained" disabled={disabled} onClick={() => setAsking(true)}>
        {word}
      </Button>
      <Dialog open={asking} onClose={() => setAsking(false)} fullWidth maxWidth="xs">
        <DialogTitle>{word}</DialogTitle>
        <DialogContent>
          {stopped > 0 ? (
            <Typography color="error">
              Pre-flight found {counted(stopped, "thing", "things")} to mend first.
            </Typography>
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
              <TextField
                sx={{ mt: 1 }}
                label="Note for the history"
                value={note}
                onChange={(event) => setNote(event.target.value)}
                helperText="If you like: what is new in it"
              />
            </>
          )}
        </DialogContent>
        <DialogActions>
          <Button onClick={() => setAsking(false)}>Not yet</Button>
          <Button variant="contained" disabled={busy || stopped > 0} onClick={() => void turnOn()}>
            {word}
          </Button>
        </DialogActions>
      </Dialog>
    </>
  );
}
