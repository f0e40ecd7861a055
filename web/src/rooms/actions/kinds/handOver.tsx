import { NO_HANDOVER } from "../../services/mapping";
import { HandOverForm } from "../../services/HandOverForm";
import type { ActionFormProps, ActionKind, ActionOf } from "../ActionKind";

function Form({
  action,
  catalogue,
  asked,
  readOnly,
  onChange,
}: ActionFormProps<ActionOf<"hand_over">>) {
  return (
    <HandOverForm
      handover={action.handover}
      catalogue={catalogue}
      asked={asked}
      readOnly={readOnly}
      onChange={(handover) => onChange({ ...action, handover })}
    />
  );
}

/** Hands people to an outside service. */
export const handOver: ActionKind<"hand_over"> = {
  words: "Hand to a service",
  make: () => ({ kind: "hand_over", handover: NO_HANDOVER }),
  Form,
};
