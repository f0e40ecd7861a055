import Stack from "@mui/material/Stack";
import { Picker } from "../../../parts/Picker";
import { ValueBox } from "../../conditions/ValueBox";
import { ActionRow } from "../ActionRow";
import type { ActionFormProps, ActionKind, ActionOf } from "../ActionKind";

function Form({ action, catalogue, readOnly, onChange }: ActionFormProps<ActionOf<"put_field">>) {
  const field = catalogue.fields.find((one) => one.id === action.field);
  return (
    <ActionRow>
      <Stack sx={{ width: 220 }}>
        <Picker
          label="Field"
          options={catalogue.fields
            .filter((one) => one.type !== "email")
            .map((one) => ({ id: one.id, name: one.label }))}
          value={action.field ?? null}
          disabled={readOnly}
          onChange={(chosen) => onChange({ ...action, field: chosen, value: "" })}
        />
      </Stack>
      <ValueBox
        op="is"
        value={action.value}
        values={[]}
        type={field?.type ?? "text"}
        options={
          field?.choices.length ? field.choices.map((one) => [one.key, one.label]) : undefined
        }
        readOnly={readOnly}
        onChange={({ value = "" }) => onChange({ ...action, value })}
      />
    </ActionRow>
  );
}

/** Sets a field to a value. */
export const putField: ActionKind<"put_field"> = {
  words: "Set a field",
  make: () => ({ kind: "put_field", field: null, value: "" }),
  Form,
};
