import { useAttempt } from "../api/useAttempt";
import Button from "@mui/material/Button";
import Dialog from "@mui/material/Dialog";
import DialogActions from "@mui/material/DialogActions";
import DialogContent from "@mui/material/DialogContent";
import DialogTitle from "@mui/material/DialogTitle";
import TextField from "@mui/material/TextField";
import { useState, type ReactNode } from "react";
import { ApiError } from "../api/client";
import { Problem } from "./Problem";

interface NameDialogProps {
  title: string;
  label: string;
  hint: string;
  action: string;
  /** What the box begins with. */
  starts?: string;
  /** What is chosen besides. */
  more?: ReactNode;
  onClose: () => void;
  onName: (name: string) => Promise<unknown>;
}

/** Asks for a name first: nothing is made without one. */
export function NameDialog(props: NameDialogProps) {
  const { title, label, hint, action, starts = "", more, onClose, onName } = props;
  const [name, setName] = useState(() => starts);
  const { attempt, failed: error, busy } = useAttempt();
  const wrong = error instanceof ApiError ? error.at("name") : undefined;
  const submit = () => attempt(() => onName(name));
  return (
    <Dialog open onClose={onClose} fullWidth maxWidth="xs">
      <form
        onSubmit={(event) => {
          event.preventDefault();
          void submit();
        }}
      >
        <DialogTitle>{title}</DialogTitle>
        <DialogContent>
          <TextField
            autoFocus
            label={label}
            value={name}
            onChange={(event) => setName(event.target.value)}
            helperText={wrong ?? hint}
            error={Boolean(wrong)}
            sx={{ mt: 1 }}
          />
          {!wrong && <Problem error={error} />}
          {more}
        </DialogContent>
        <DialogActions>
          <Button onClick={onClose}>Cancel</Button>
          <Button type="submit" variant="contained" disabled={busy || !name.trim()}>
            {action}
          </Button>
        </DialogActions>
      </form>
    </Dialog>
  );
}
