import { TagTable } from "../TagTable";
import type { ActionFormProps, ActionKind, ActionOf } from "../ActionKind";

function Form(props: ActionFormProps<ActionOf<"tag_by_answer">>) {
  const { catalogue, ...rest } = props;
  return <TagTable {...rest} tags={catalogue.tags} />;
}

/** Tags by a table of choices. */
export const tagByAnswer: ActionKind<"tag_by_answer"> = {
  words: "Tag by answer",
  make: (question) => ({ kind: "tag_by_answer", question, table: [] }),
  Form,
};
