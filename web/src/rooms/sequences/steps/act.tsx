import { ActionForm } from "../../actions/ActionForm";
import type { FormOf } from "../stepParts";

/** An action of a rule as a step: tags, fields, the score, handing to a service … */
export function ActForm({ step, catalogue, readOnly, onChange }: FormOf<"act">) {
  return (
    <ActionForm
      action={step.action}
      catalogue={catalogue}
      questions={[]}
      asked={[]}
      suggests=""
      readOnly={readOnly}
      // An email of a sequence is a step of its own.
      onChange={(action) => action.kind !== "send_now" && onChange({ ...step, action })}
    />
  );
}
