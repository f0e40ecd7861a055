import type { ComponentType } from "react";
import { ActForm } from "./steps/act";
import { STEPS } from "./steps/registry";
import type { StepPanelProps } from "./stepParts";
import type { Step } from "./sequenceDocument";

type StepFormProps = StepPanelProps & { onChange: (step: Step) => void };

/** The form of a step, by its kind. */
export function StepForm(props: StepFormProps) {
  const { step } = props;
  if (step.kind === "act") return <ActForm {...props} step={step} />;
  // The form of the kind takes steps of that kind, which TypeScript cannot follow through the union.
  const Form = STEPS[step.kind].Form as ComponentType<StepFormProps>;
  return <Form {...props} />;
}
