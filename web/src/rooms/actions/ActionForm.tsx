import type { ComponentType } from "react";
import type { ActionFormProps } from "./ActionKind";
import { ACTIONS } from "./registry";

/** What an action needs to know: its tags, field, list, message, members. */
export function ActionForm(props: ActionFormProps) {
  // The form of the kind takes actions of that kind, which TypeScript cannot follow through the union.
  const Form = ACTIONS[props.action.kind].Form as ComponentType<ActionFormProps>;
  return <Form {...props} />;
}
