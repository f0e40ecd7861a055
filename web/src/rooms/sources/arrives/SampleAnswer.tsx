import TextField from "@mui/material/TextField";
import Typography from "@mui/material/Typography";
import { inputsOf, type Answer, type Question } from "../routeDocument";

interface SampleAnswerProps {
  question: Question;
  answers: Answer[];
  /** Which sample is shown. */
  chosen: string;
  onType: (answers: Answer[]) => void;
}

/** What the sample answered to a question, as received; to be typed where it is typed in. */
export function SampleAnswer({ question, answers, chosen, onType }: SampleAnswerProps) {
  const answered = (name: string) =>
    answers
      .filter((one) => one.name === name)
      .map((one) => one.text)
      .join(", ");
  const set = (name: string, text: string) =>
    onType([...answers.filter((one) => one.name !== name), { name, text }]);
  const inputs = inputsOf(question);
  if (chosen === "typed") {
    return inputs.map((input) => (
      <TextField
        key={input.name}
        variant="standard"
        value={answered(input.name)}
        placeholder={input.part && input.label}
        onChange={(event) => set(input.name, event.target.value)}
        slotProps={{ htmlInput: { "aria-label": `Sample: ${input.label || input.name}` } }}
      />
    ));
  }
  const whole = inputs
    .map((input) => answered(input.name))
    .filter(Boolean)
    .join(", ");
  return (
    <Typography variant="body2" color={whole ? undefined : "textSecondary"}>
      {whole || "no answer"}
    </Typography>
  );
}
