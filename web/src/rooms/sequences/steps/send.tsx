import { SendForm as Form } from "../SendForm";
import type { StepKind } from "../stepParts";

/** Sends an email. */
export const sendStep: StepKind<"send"> = {
  words: "Send an email",
  make: (id, asked) => ({
    kind: "send",
    id,
    message: null,
    at_once: asked,
    any_hour: false,
    if_held: "wait",
  }),
  Form,
};
