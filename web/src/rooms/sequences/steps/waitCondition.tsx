import Stack from "@mui/material/Stack";
import { DurationFields, WayPicker, WhenForm } from "../panelParts";
import { ON } from "../sequenceDocument";
import type { FormOf, StepKind } from "../stepParts";

function Form(props: FormOf<"wait_condition">) {
  const { step, document, readOnly, words, onChange } = props;
  return (
    <>
      <WhenForm
        name="Until this holds"
        none=""
        when={step.when}
        required
        context={props}
        onChange={(when) => when && onChange({ ...step, when })}
      />
      <Stack spacing={1.5} sx={{ mt: 1.5 }}>
        <DurationFields
          label="At most"
          duration={step.at_most}
          readOnly={readOnly}
          onChange={(at_most) => onChange({ ...step, at_most })}
        />
        <WayPicker
          label="Once it holds"
          way={step.held}
          document={document}
          words={words}
          readOnly={readOnly}
          onChange={(held) => onChange({ ...step, held })}
        />
        <WayPicker
          label="If it does not hold in time"
          way={step.otherwise}
          document={document}
          words={words}
          readOnly={readOnly}
          onChange={(otherwise) => onChange({ ...step, otherwise })}
        />
      </Stack>
    </>
  );
}

/** Waits until a condition holds, at the most so long. */
export const waitConditionStep: StepKind<"wait_condition"> = {
  words: "Wait until a condition holds",
  make: (id) => ({
    kind: "wait_condition",
    id,
    when: { kind: "all", of: [] },
    at_most: { amount: 7, unit: "days" },
    held: ON,
    otherwise: ON,
  }),
  Form,
};
