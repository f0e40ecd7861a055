import Stack from "@mui/material/Stack";
import TextField from "@mui/material/TextField";
import { QuestionPicker } from "../../sources/QuestionPicker";
import { ActionRow } from "../ActionRow";
import { TagsSoFar } from "../TagsSoFar";
import { WordsBox } from "../WordsBox";
import type { ActionFormProps, ActionKind, ActionOf } from "../ActionKind";

function Form({
  action,
  catalogue,
  asked,
  readOnly,
  onChange,
}: ActionFormProps<ActionOf<"tag_from_answer">>) {
  return (
    <ActionRow>
      <Stack sx={{ width: 220 }}>
        <QuestionPicker
          label="Answer to"
          asked={asked}
          value={action.question}
          disabled={readOnly}
          onChange={(question) => onChange({ ...action, question })}
        />
      </Stack>
      <TextField
        label="Each tag begins with"
        placeholder="source: "
        value={action.prefix}
        disabled={readOnly}
        onChange={(event) => onChange({ ...action, prefix: event.target.value })}
        sx={{ width: 180 }}
      />
      <WordsBox
        label="Only these answers (empty: any)"
        value={action.only}
        readOnly={readOnly}
        onChange={(only) => onChange({ ...action, only })}
      />
      <TagsSoFar action={action} tags={catalogue.tags} />
    </ActionRow>
  );
}

/** Makes the answer itself a tag. */
export const tagFromAnswer: ActionKind<"tag_from_answer"> = {
  words: "Tag with the answer itself",
  make: () => ({ kind: "tag_from_answer", question: "", prefix: "", only: [] }),
  Form,
};
