import { NumberField } from "../../../parts/NumberField";
import type { ActionFormProps, ActionKind, ActionOf } from "../ActionKind";

function Form({ action, readOnly, onChange }: ActionFormProps<ActionOf<"change_score">>) {
  return (
    <NumberField
      label="Points (negative to subtract)"
      value={action.by}
      min={-1000}
      max={1000}
      disabled={readOnly}
      onChange={(by) => onChange({ ...action, by })}
      sx={{ width: 210, mt: 1 }}
    />
  );
}

/** Adds points, or takes some. */
export const changeScore: ActionKind<"change_score"> = {
  words: "Change the score",
  make: () => ({ kind: "change_score", by: 1 }),
  Form,
};
