import { THINGS, touchesQuery } from "../../api/things";
import Typography from "@mui/material/Typography";
import { useQuery } from "@tanstack/react-query";
import { useSlug } from "../../api/workspace";
import { ConfirmDialog } from "../ConfirmDialog";
import { Problem } from "../Problem";
import type { Kind } from "./kinds";

interface TouchesDialogProps {
  kind: Kind;
  id: string;
  name: string;
  asking: "archive" | "delete";
  onClose: () => void;
  onDone: () => Promise<void>;
}

/** Says what archiving or deleting touches, before it is done. */
export function TouchesDialog({ kind, id, name, asking, onClose, onDone }: TouchesDialogProps) {
  const workspace = useSlug();
  const { remove, restore, archive } = THINGS[kind](workspace, id);
  const { data, error: failed } = useQuery(touchesQuery(workspace, kind, id));
  const deletes = asking === "delete";
  const restores = !deletes && data?.archived === true;
  const word = deletes ? "Delete" : restores ? "Restore" : "Archive";
  const act = async () => {
    await (deletes ? remove : restores ? restore : archive)?.();
    await onDone();
  };
  return (
    <ConfirmDialog
      title={`${word} “${name}”?`}
      action={word}
      destroys={deletes}
      disabled={!data || (deletes && !data.deletable)}
      onClose={onClose}
      onConfirm={act}
    >
      <Problem error={failed} />
      {data?.sentences.map((one) => (
        <Typography key={one} variant="body2" sx={{ mb: 0.5 }}>
          {one}
        </Typography>
      ))}
      {data && deletes && !data.deletable && (
        <Typography color="error">It cannot be deleted. Archive it instead.</Typography>
      )}
      {data && deletes && data.deletable && (
        <Typography>Nothing depends on it. It cannot be brought back.</Typography>
      )}
      {data && !deletes && !restores && (
        <Typography>
          It is no longer listed and does nothing. You can restore it at any time.
        </Typography>
      )}
      {restores && <Typography>It is listed again, and stays paused.</Typography>}
    </ConfirmDialog>
  );
}
