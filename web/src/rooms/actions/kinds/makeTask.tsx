import { LimitedField } from "../../../parts/LimitedField";
import { NumberField } from "../../../parts/NumberField";
import { ActionRow } from "../ActionRow";
import type { ActionFormProps, ActionKind, ActionOf } from "../ActionKind";

function Form({ action, readOnly, onChange }: ActionFormProps<ActionOf<"make_task">>) {
  return (
    <ActionRow>
      <LimitedField
        most={200}
        label="What is to be done"
        value={action.title}
        disabled={readOnly}
        onChange={(text) => onChange({ ...action, title: text })}
        sx={{ width: 320 }}
      />
      <NumberField
        label="Within (days)"
        value={action.days}
        min={0}
        max={365}
        disabled={readOnly}
        onChange={(days) => onChange({ ...action, days })}
        sx={{ width: 120 }}
      />
    </ActionRow>
  );
}

/** Gives the owner something to do. */
export const makeTask: ActionKind<"make_task"> = {
  words: "Make a task for the owner",
  make: () => ({ kind: "make_task", title: "", days: 1 }),
  Form,
};
