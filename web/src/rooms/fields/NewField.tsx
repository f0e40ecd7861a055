import { useAttempt } from "../../api/useAttempt";
import Button from "@mui/material/Button";
import Dialog from "@mui/material/Dialog";
import DialogActions from "@mui/material/DialogActions";
import DialogContent from "@mui/material/DialogContent";
import DialogTitle from "@mui/material/DialogTitle";
import Stack from "@mui/material/Stack";
import TextField from "@mui/material/TextField";
import { useState } from "react";
import { ApiError, type Schemas } from "../../api/client";
import { Problem } from "../../parts/Problem";
import { useMaking } from "../../parts/useMaking";
import { ChoicesEditor } from "../sources/questions/ChoicesEditor";
import type { FieldType } from "./fieldTypes";
import { TypePicker } from "./TypePicker";

/** Makes a field; its name is asked first. */
export function NewField({ onClose }: { onClose: () => void }) {
  const making = useMaking();
  const [label, setLabel] = useState("");
  const [type, setType] = useState<FieldType>("text");
  const [choices, setChoices] = useState<Schemas["Choice"][]>([]);
  const { attempt, failed: error } = useAttempt();
  const wrong = error instanceof ApiError ? (error.at("name") ?? error.at("label")) : undefined;
  const make = async () => {
    await attempt(async () => {
      await making.field(label, type, choices);
      onClose();
    });
  };
  return (
    <Dialog open onClose={onClose} fullWidth maxWidth="xs">
      <form
        onSubmit={(event) => {
          event.preventDefault();
          void make();
        }}
      >
        <DialogTitle>New field</DialogTitle>
        <DialogContent>
          <Stack spacing={2} sx={{ pt: 1 }}>
            <TextField
              autoFocus
              label="Name"
              value={label}
              onChange={(event) => setLabel(event.target.value)}
              error={Boolean(wrong)}
              helperText={wrong ?? "What is known of a person: “Telescope owned”"}
            />
            <TypePicker value={type} onChange={setType} />
            {(type === "choice" || type === "choices") && (
              <ChoicesEditor choices={choices} onChange={setChoices} />
            )}
          </Stack>
          {!wrong && <Problem error={error} />}
        </DialogContent>
        <DialogActions>
          <Button onClick={onClose}>Cancel</Button>
          <Button type="submit" variant="contained" disabled={!label.trim()}>
            Make it
          </Button>
        </DialogActions>
      </form>
    </Dialog>
  );
}
