import { DurationFields } from "../panelParts";
import type { FormOf, StepKind } from "../stepParts";

function Form(props: FormOf<"wait">) {
  const { step, readOnly, onChange } = props;
  return (
    <DurationFields
      label="Wait for"
      duration={step.duration}
      readOnly={readOnly}
      onChange={(duration) => onChange({ ...step, duration })}
    />
  );
}

/** Waits for a duration. */
export const waitStep: StepKind<"wait"> = {
  words: "Wait for some time",
  make: (id) => ({ kind: "wait", id, duration: { amount: 1, unit: "days" } }),
  Form,
};
