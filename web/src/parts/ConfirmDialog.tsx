import Button from "@mui/material/Button";
import Dialog from "@mui/material/Dialog";
import DialogActions from "@mui/material/DialogActions";
import DialogContent from "@mui/material/DialogContent";
import DialogTitle from "@mui/material/DialogTitle";
import type { ReactNode } from "react";
import { useAttempt } from "../api/useAttempt";
import { Problem } from "./Problem";

interface ConfirmDialogProps {
  /** The question, with the name of what it is about. */
  title: string;
  /** What it does, in sentences. */
  children: ReactNode;
  /** What the button that does it says: the verb. */
  action: string;
  /** What the one that does nothing says. */
  otherwise?: string;
  /** Whether it cannot be undone. */
  destroys?: boolean;
  /** Whether it cannot be done now. */
  disabled?: boolean;
  /** Something else that can be done instead, and what its button says. */
  instead?: { label: string; onAct: () => Promise<unknown> };
  onClose: () => void;
  /** Does it. What goes wrong stands in the dialog; closing it is up to the caller. */
  onConfirm: () => unknown;
}

/** Asks before something is done that cannot simply be undone. */
export function ConfirmDialog(props: ConfirmDialogProps) {
  const { title, children, action, otherwise = "Cancel", destroys, disabled, instead } = props;
  const { onClose, onConfirm } = props;
  const { attempt, failed, busy } = useAttempt();
  return (
    <Dialog open onClose={onClose} fullWidth maxWidth="xs">
      <DialogTitle>{title}</DialogTitle>
      <DialogContent>
        {children}
        <Problem error={failed} />
      </DialogContent>
      <DialogActions>
        <Button onClick={onClose}>{otherwise}</Button>
        {instead && (
          <Button disabled={busy} onClick={() => void attempt(instead.onAct)}>
            {instead.label}
          </Button>
        )}
        <Button
          variant="contained"
          color={destroys ? "error" : "primary"}
          disabled={busy || disabled === true}
          onClick={() => void attempt(() => Promise.resolve().then(onConfirm))}
        >
          {action}
        </Button>
      </DialogActions>
    </Dialog>
  );
}
