import Stack from "@mui/material/Stack";
import Typography from "@mui/material/Typography";
import { SmallSelect } from "../conditions/SmallSelect";
import {
  goneAnswers,
  meaningOf,
  withMeaning,
  type Answer,
  type Meaning,
  type Subscription,
} from "./answerMeanings";

interface AnswerMeaningsProps {
  action: Subscription;
  answers: Answer[];
  readOnly: boolean;
  onChange: (action: Subscription) => void;
}

/** For each answer that can be given whether it subscribes or unsubscribes. */
export function AnswerMeanings({ action, answers, readOnly, onChange }: AnswerMeaningsProps) {
  return (
    <Stack spacing={0.75} sx={{ width: "100%", maxWidth: 480 }}>
      {[...answers, ...goneAnswers(action, answers)].map((answer) => (
        <Stack key={answer.key} direction="row" spacing={1} sx={{ alignItems: "center" }}>
          <Typography variant="body2" sx={{ flex: 1 }}>
            {answer.label}
          </Typography>
          <SmallSelect
            label={`“${answer.label}” means`}
            value={meaningOf(action, answer)}
            options={[
              ["", "Choose …"],
              ["subscribe", "Subscribe"],
              ["unsubscribe", "Unsubscribe"],
            ]}
            readOnly={readOnly}
            onChange={(meaning) => onChange(withMeaning(action, answer, meaning as Meaning))}
          />
        </Stack>
      ))}
    </Stack>
  );
}
