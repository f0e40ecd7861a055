import Button from "@mui/material/Button";
import Stack from "@mui/material/Stack";
import Typography from "@mui/material/Typography";
import { useState, type ReactNode } from "react";
import { Problem } from "../parts/Problem";
import { Conflict } from "./Unsaved";
import type { FormDraft } from "./useForm";

interface FormActionsProps<Form> {
  draft: FormDraft<Form>;
  /** What saving is called. */
  label?: string;
  /** Once it is saved. */
  onSaved?: () => void;
  disabled?: boolean;
  /** Closes the form without saving; with it a Cancel button stands in place of the one that only undoes. */
  onCancel?: () => void;
  /** In a dialog the button that acts comes last, and the dialog is open until it is saved. */
  inDialog?: boolean;
  /** Whether what went wrong is shown elsewhere (`FormTrouble`). */
  quiet?: boolean;
  /** More to press beside it. */
  children?: ReactNode;
}

/** Saves a form, or takes back what was written since; and why it could not be saved. */
export function FormActions<Form>(props: FormActionsProps<Form>) {
  const {
    draft,
    label = "Save",
    onSaved,
    disabled = false,
    onCancel,
    inDialog,
    quiet,
    children,
  } = props;
  const [done, setDone] = useState(false);
  const changed = draft.state !== "saved";
  const cancel = onCancel && (
    <Button
      color={inDialog ? "primary" : "inherit"}
      onClick={() => {
        draft.revert();
        onCancel();
      }}
    >
      Cancel
    </Button>
  );
  const save = async () => {
    if (!(await draft.save())) return;
    setDone(true);
    onSaved?.();
  };
  return (
    <div>
      {!quiet && <FormTrouble draft={draft} />}
      <Stack
        direction="row"
        spacing={1.5}
        useFlexGap
        sx={{ alignItems: "center", flexWrap: "wrap" }}
      >
        {inDialog && cancel}
        <Button
          variant={changed ? "contained" : "outlined"}
          disabled={disabled || !changed || draft.state === "saving"}
          onClick={() => void save()}
        >
          {label}
        </Button>
        {!inDialog && cancel}
        {!onCancel && changed && draft.state !== "saving" && (
          <Button color="inherit" onClick={draft.revert}>
            Undo changes
          </Button>
        )}
        {children}
        {!inDialog && (
          <Typography variant="caption" color="textSecondary" role="status">
            {WORDS[draft.slow ? "slow" : draft.state] || (done && "Saved")}
          </Typography>
        )}
      </Stack>
    </div>
  );
}

/** Why a form could not be saved, and the ways on. */
export function FormTrouble<Form>({ draft }: { draft: FormDraft<Form> }) {
  return draft.state === "conflict" ? (
    <Conflict draft={draft} load={draft.load} />
  ) : (
    <Problem error={draft.error} />
  );
}

const WORDS = {
  saved: "",
  saving: "Saving …",
  unsaved: "Not saved yet",
  failed: "Not saved",
  conflict: "Not saved",
  slow: "Not saved yet: the server has not answered",
};
