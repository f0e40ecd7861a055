import { LimitedField } from "../../../parts/LimitedField";
import type { ActionFormProps, ActionKind, ActionOf } from "../ActionKind";

function Form({ action, readOnly, onChange }: ActionFormProps<ActionOf<"record_event">>) {
  return (
    <LimitedField
      most={60}
      label="Name of the event"
      placeholder="asked for a visit"
      value={action.name}
      disabled={readOnly}
      onChange={(text) => onChange({ ...action, name: text })}
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
