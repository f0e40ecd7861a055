import Stack from "@mui/material/Stack";
import { Picker } from "../../parts/Picker";
import { SmallSelect } from "../conditions/SmallSelect";
import type { ActionFormProps } from "./ActionKind";
import { AnswerMeanings } from "./AnswerMeanings";
import { answersOf, forQuestion, type Subscription } from "./answerMeanings";
import { QuestionPicker } from "../sources/QuestionPicker";
import { WordsBox } from "./WordsBox";

/** Subscribing or unsubscribing: which list, and where an answer decides, what each means. */
export function SubscriptionForm(props: ActionFormProps<Subscription>) {
  const { action, catalogue, asked, readOnly, onChange } = props;
  const question = asked.find((one) => one.name === action.question);
  const answers = answersOf(question);
  const every = action.direction === "unsubscribe" && action.every_list;
  return (
    <Stack direction="row" spacing={1} useFlexGap sx={{ flexWrap: "wrap", pt: 1 }}>
      <SmallSelect
        label="Do what"
        value={every ? "unsubscribe_all" : (action.direction ?? "")}
        options={[
          ["", "Choose …"],
          ["subscribe", "Subscribe to"],
          ["unsubscribe", "Unsubscribe from"],
          ["unsubscribe_all", "Unsubscribe from all lists"],
          ["by_answer", "As an answer says"],
        ]}
        readOnly={readOnly}
        onChange={(chosen) => {
          const every_list = chosen === "unsubscribe_all";
          const direction = (every_list ? "unsubscribe" : chosen) as Subscription["direction"];
          onChange({
            ...action,
            direction: direction || null,
            every_list,
            list: every_list ? null : (action.list ?? null),
          });
        }}
      />
      {action.direction && !every && (
        <Stack sx={{ width: 220 }}>
          <Picker
            label="List"
            options={catalogue.lists}
            value={action.list ?? null}
            disabled={readOnly}
            onChange={(list) => onChange({ ...action, list })}
          />
        </Stack>
      )}
      {action.direction === "by_answer" && (
        <Stack sx={{ width: 220 }}>
          <QuestionPicker
            label="Answer to"
            asked={asked}
            value={action.question}
            disabled={readOnly}
            onChange={(name) =>
              onChange(
                forQuestion(
                  action,
                  name,
                  asked.find((one) => one.name === name),
                ),
              )
            }
          />
        </Stack>
      )}
      {action.direction === "by_answer" && answers && (
        <AnswerMeanings action={action} answers={answers} readOnly={readOnly} onChange={onChange} />
      )}
      {action.direction === "by_answer" && !answers && (
        <>
          <WordsBox
            label="Answers that subscribe"
            value={action.subscribe_words}
            offered={question?.values ?? []}
            readOnly={readOnly}
            onChange={(subscribe_words) => onChange({ ...action, subscribe_words })}
          />
          <WordsBox
            label="Answers that unsubscribe"
            value={action.unsubscribe_words}
            offered={question?.values ?? []}
            readOnly={readOnly}
            onChange={(unsubscribe_words) => onChange({ ...action, unsubscribe_words })}
          />
        </>
      )}
    </Stack>
  );
}
