import Stack from "@mui/material/Stack";
import { NumberField } from "../../../parts/NumberField";
import { Picker } from "../../../parts/Picker";
import { ClockField, WayPicker } from "../panelParts";
import { Check } from "../stepParts";
import { ON } from "../sequenceDocument";
import type { FormOf, StepKind } from "../stepParts";

function Form(props: FormOf<"wait_date">) {
  const { step, document, readOnly, words, onChange, catalogue } = props;
  const dates = catalogue.fields
    .filter((one) => one.type === "date")
    .map((one) => ({ id: one.id, name: one.label }));
  return (
    <Stack spacing={1.5}>
      <Picker
        label="Date field"
        options={dates}
        value={step.field ?? null}
        disabled={readOnly}
        onChange={(field) => onChange({ ...step, field })}
      />
      <NumberField
        label="Days after it (negative: before)"
        value={step.days}
        min={-3650}
        max={3650}
        disabled={readOnly}
        onChange={(days) => onChange({ ...step, days })}
      />
      <ClockField
        label="At, in the person’s time zone"
        value={step.at}
        readOnly={readOnly}
        onChange={(at) => at && onChange({ ...step, at })}
      />
      <Check
        label="Every year (the next return of the date)"
        checked={step.yearly}
        readOnly={readOnly}
        onChange={(yearly) => onChange({ ...step, yearly })}
      />
      <WayPicker
        label="Without a date, or when it has passed"
        way={step.otherwise}
        document={document}
        words={words}
        readOnly={readOnly}
        onChange={(otherwise) => onChange({ ...step, otherwise })}
      />
    </Stack>
  );
}

/** Waits until a date of theirs. */
export const waitDateStep: StepKind<"wait_date"> = {
  words: "Wait until a date of theirs",
  make: (id) => ({
    kind: "wait_date",
    id,
    field: null,
    days: 0,
    at: "09:00:00",
    yearly: false,
    otherwise: ON,
  }),
  Form,
};
