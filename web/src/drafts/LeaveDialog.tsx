import Button from "@mui/material/Button";
import Dialog from "@mui/material/Dialog";
import DialogActions from "@mui/material/DialogActions";
import DialogContent from "@mui/material/DialogContent";
import DialogTitle from "@mui/material/DialogTitle";

interface LeaveDialogProps {
  open: boolean;
  onAnswer: (leave: boolean) => void;
}

/** Asks whether what is not saved may be lost. */
export function LeaveDialog({ open, onAnswer }: LeaveDialogProps) {
  return (
    <Dialog open={open} onClose={() => onAnswer(false)}>
      <DialogTitle>Leave without saving?</DialogTitle>
      <DialogContent>Your latest changes are not saved and would be lost.</DialogContent>
      <DialogActions>
        <Button onClick={() => onAnswer(true)}>Leave without saving</Button>
        <Button variant="contained" onClick={() => onAnswer(false)}>
          Stay here
        </Button>
      </DialogActions>
    </Dialog>
  );
}
