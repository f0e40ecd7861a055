import { counted, plural } from "../../parts/formats";
import { useAttempt } from "../../api/useAttempt";
import Button from "@mui/material/Button";
import Dialog from "@mui/material/Dialog";
import DialogActions from "@mui/material/DialogActions";
import DialogContent from "@mui/material/DialogContent";
import DialogTitle from "@mui/material/DialogTitle";
import MenuItem from "@mui/material/MenuItem";
import Stack from "@mui/material/Stack";
import TextField from "@mui/material/TextField";
import Typography from "@mui/material/Typography";
import { useState } from "react";
import { FormActions } from "../../drafts/FormActions";
import { Problem } from "../../parts/Problem";
import { ChoicesEditor } from "../sources/questions/ChoicesEditor";
import { RetypeBody } from "./RetypeBody";
import { useFieldForm } from "./useFieldForm";
import { useFields, type Field, type Use } from "./useFields";

export type Change = "rename" | "choices" | "retype" | "merge" | "remove";

interface FieldChangeProps {
  what: Change;
  field: Field;
  fields: Field[];
  use: Use | undefined;
  onClose: () => void;
}

const TITLES: Record<Change, string> = {
  rename: "Rename",
  choices: "Choices of",
  retype: "Retype",
  merge: "Merge",
  remove: "Remove",
};

/** A change of a field, with what it touches said first. */
export function FieldChange({ what, field, fields, use, onClose }: FieldChangeProps) {
  const change = useFields();
  const draft = useFieldForm(field);
  const { form, set } = draft;
  const [into, setInto] = useState("");
  const { attempt: tryTo, failed: error } = useAttempt();
  const people = counted(use?.people ?? 0, "person has", "people have");
  const attempt = async (asked: Promise<unknown>) => {
    await tryTo(async () => {
      await asked;
      onClose();
    });
  };
  const fillers = use?.routes.map((one) => one.name).join(", ");
  return (
    <Dialog open onClose={onClose} fullWidth maxWidth="sm">
      <DialogTitle>
        {TITLES[what]} {field.label}
      </DialogTitle>
      {what === "retype" ? (
        <RetypeBody field={field} people={use?.people ?? 0} onClose={onClose} />
      ) : (
        <>
          <DialogContent>
            <Stack spacing={1.5} sx={{ pt: 1 }}>
              {what === "rename" && (
                <TextField
                  autoFocus
                  label="Name"
                  value={form.label}
                  onChange={(event) => set({ label: event.target.value })}
                  error={Boolean(draft.wrong("label"))}
                  helperText={
                    draft.wrong("label") ??
                    `In texts it stays ${field.key}, so that messages and routes go on.`
                  }
                />
              )}
              {what === "choices" && (
                <ChoicesEditor choices={form.choices} onChange={(choices) => set({ choices })} />
              )}
              {what === "merge" && (
                <>
                  <Typography variant="body2">
                    {people} a value in it. Where the other field is empty the value goes there;
                    where it is not, the other one stays. Then {field.label} is removed.
                  </Typography>
                  <TextField
                    select
                    label="Into the field"
                    value={into}
                    onChange={(event) => setInto(event.target.value)}
                  >
                    {fields
                      .filter((one) => one.id !== field.id && one.key !== "email")
                      .map((one) => (
                        <MenuItem key={one.id} value={one.id}>
                          {one.label}
                        </MenuItem>
                      ))}
                  </TextField>
                </>
              )}
              {what === "remove" && (
                <Typography variant="body2">
                  {people} a value in it, which is lost. The trail of each keeps what it was.
                </Typography>
              )}
              {(what === "merge" || what === "remove") && fillers && (
                <Typography variant="body2" color="warning">
                  {fillers} fill{plural(use?.routes.length ?? 0, "s", "")} it: the line there will
                  say that its field is gone.
                </Typography>
              )}
            </Stack>
            <Problem error={error} />
          </DialogContent>
          <DialogActions>
            {what === "rename" || what === "choices" ? (
              <FormActions
                draft={draft}
                label={what === "rename" ? "Rename" : "Save the choices"}
                onSaved={onClose}
                onCancel={onClose}
                inDialog
              />
            ) : (
              <Button onClick={onClose}>Cancel</Button>
            )}
            {what === "merge" && (
              <Button
                variant="contained"
                disabled={!into}
                onClick={() => void attempt(change.merge(field.id, into))}
              >
                Merge
              </Button>
            )}
            {what === "remove" && (
              <Button
                variant="contained"
                color="error"
                onClick={() => void attempt(change.remove(field.id))}
              >
                Remove it from {use?.people ?? 0}
              </Button>
            )}
          </DialogActions>
        </>
      )}
    </Dialog>
  );
}
