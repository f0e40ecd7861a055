import Button from "@mui/material/Button";
import Dialog from "@mui/material/Dialog";
import DialogActions from "@mui/material/DialogActions";
import DialogContent from "@mui/material/DialogContent";
import DialogTitle from "@mui/material/DialogTitle";
import Typography from "@mui/material/Typography";
import { useState } from "react";
import { ConditionGroup } from "../../conditions/ConditionGroup";
import type { Group } from "../../conditions/condition";
import { useLetter } from "./LetterContext";

interface OnlyForProps {
  name: string;
  only: Group | null;
  onClose: () => void;
  onChange: (only: Group | null) => void;
}

/** Whom a block is shown to. */
export function OnlyFor({ name, only, onClose, onChange }: OnlyForProps) {
  const { catalogue } = useLetter();
  const [group, setGroup] = useState<Group>(only ?? { kind: "all", of: [] });
  return (
    <Dialog
      open
      onClose={onClose}
      fullWidth
      maxWidth="md"
      onClick={(event) => event.stopPropagation()}
    >
      <DialogTitle>Who sees {name}</DialogTitle>
      <DialogContent>
        <Typography variant="body2" sx={{ mb: 1 }}>
          Everybody else gets the email without it.
        </Typography>
        <ConditionGroup
          group={group}
          catalogue={catalogue}
          asked={[]}
          readOnly={false}
          onChange={setGroup}
        />
      </DialogContent>
      <DialogActions>
        {only && (
          <Button
            onClick={() => {
              onChange(null);
              onClose();
            }}
          >
            Show to everybody
          </Button>
        )}
        <Button onClick={onClose}>Cancel</Button>
        <Button
          variant="contained"
          disabled={group.of.length === 0}
          onClick={() => {
            onChange(group);
            onClose();
          }}
        >
          Save
        </Button>
      </DialogActions>
    </Dialog>
  );
}
