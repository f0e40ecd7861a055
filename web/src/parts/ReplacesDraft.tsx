import Typography from "@mui/material/Typography";
import { ConfirmDialog } from "./ConfirmDialog";

interface ReplacesDraftProps {
  open: boolean;
  /** What takes the place of the draft: "Revision 2", "The sheet in the file". */
  what: string;
  /** What the draft has different from what is live, in sentences, where that is known. */
  changes?: string[];
  onClose: () => void;
  onReplace: () => void;
}

const SHOWN = 8;

/** Asks before a draft that is not live yet is replaced as a whole. */
export function ReplacesDraft(props: ReplacesDraftProps) {
  const { open, what, changes = [], onClose, onReplace } = props;
  if (!open) return null;
  return (
    <ConfirmDialog
      title="Replace the draft?"
      action="Replace it"
      otherwise="Keep the draft"
      onClose={onClose}
      onConfirm={onReplace}
    >
      <Typography variant="body2" sx={{ mb: 1 }}>
        {what} takes its place. These changes are not live yet, and would be lost
        {changes.length > 0 ? ":" : "."}
      </Typography>
      {changes.slice(0, SHOWN).map((one) => (
        <Typography key={one} variant="body2" color="textSecondary">
          {one}
        </Typography>
      ))}
      {changes.length > SHOWN && (
        <Typography variant="body2">and {changes.length - SHOWN} more</Typography>
      )}
    </ConfirmDialog>
  );
}
