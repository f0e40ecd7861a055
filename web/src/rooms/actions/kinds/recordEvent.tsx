import TextField from "@mui/material/TextField";
import type { ActionFormProps, ActionKind, ActionOf } from "../ActionKind";

function Form({ action, readOnly, onChange }: ActionFormProps<ActionOf<"record_event">>) {
  return (
    <TextField
      label="Name of the event"
      placeholder="asked for a visit"
      value={action.name}
      disabled={readOnly}
      onChange={(event) => onChange({ ...action, name: event.target.value.slice(0, 60) })}
      sx={{ maxWidth: 300, mt: 1 }}
    />
  );
}

/** Records that something happened. */
export const recordEvent: ActionKind<"record_event"> = {
  words: "Record an event",
  make: () => ({ kind: "record_event", name: "" }),
  Form,
};
