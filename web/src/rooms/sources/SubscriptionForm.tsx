import Stack from "@mui/material/Stack";
import { Picker } from "../../parts/Picker";
import { SmallSelect } from "../conditions/SmallSelect";
import type { ActionFormProps } from "./ActionForm";
import { QuestionPicker } from "./QuestionPicker";
import type { Action } from "./ruleActions";
import { WordsBox } from "./WordsBox";

type Subscription = Extract<Action, { kind: "change_subscription" }>;

/** Subscribing or unsubscribing: which list, and where an answer decides, by which words. */
export function SubscriptionForm(props: ActionFormProps<Subscription>) {
  const { action, catalogue, asked, readOnly, onChange } = props;
  return (
    <Stack direction="row" spacing={1} useFlexGap sx={{ flexWrap: "wrap", pt: 1 }}>
      <SmallSelect
        label="Direction"
        value={action.direction}
        options={[
          ["unsubscribe", "unsubscribe from"],
          ["subscribe", "subscribe to"],
          ["by_answer", "as an answer says"],
        ]}
        readOnly={readOnly}
        onChange={(direction) =>
          onChange({ ...action, direction: direction as Subscription["direction"] })
        }
      />
      <Stack sx={{ width: 220 }}>
        <Picker
          label={action.direction === "unsubscribe" ? "List (empty: all)" : "List"}
          options={catalogue.lists}
          value={action.list ?? null}
          disabled={readOnly}
          onChange={(list) => onChange({ ...action, list })}
        />
      </Stack>
      {action.direction === "by_answer" && (
        <>
          <Stack sx={{ width: 220 }}>
            <QuestionPicker
              label="Answer to"
              asked={asked}
              value={action.question}
              disabled={readOnly}
              onChange={(question) => onChange({ ...action, question })}
            />
          </Stack>
          <WordsBox
            label="Answers that subscribe"
            value={action.subscribe_words}
            readOnly={readOnly}
            onChange={(subscribe_words) => onChange({ ...action, subscribe_words })}
          />
          <WordsBox
            label="Answers that unsubscribe"
            value={action.unsubscribe_words}
            readOnly={readOnly}
            onChange={(unsubscribe_words) => onChange({ ...action, unsubscribe_words })}
          />
        </>
      )}
    </Stack>
  );
}
