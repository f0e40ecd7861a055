import TextField from "@mui/material/TextField";
import Typography from "@mui/material/Typography";
import type { SampleChoice } from "../RouteContext";
import type { Answer } from "../routeDocument";

interface SampleAnswersProps {
  answers: Answer[];
  choice: SampleChoice;
  onType: (answers: Answer[]) => void;
}

/** The sample of a source whose questions are learned: every answer by its name. */
export function SampleAnswers({ answers, choice, onType }: SampleAnswersProps) {
  if (answers.length === 0) {
    return (
      <Typography variant="body2" color="textSecondary">
        Nothing has come in yet.
      </Typography>
    );
  }
  return answers.slice(0, 40).map((one, index) =>
    choice.chosen === "typed" ? (
      <TextField
        key={index}
        variant="standard"
        label={one.name}
        value={one.text}
        onChange={(event) =>
          onType(
            answers.map((other, at) =>
              at === index ? { ...one, text: event.target.value } : other,
            ),
          )
        }
      />
    ) : (
      <Typography key={index} variant="body2">
        <Typography component="span" variant="caption" color="textSecondary">
          {one.name}
        </Typography>{" "}
        {one.text || "—"}
      </Typography>
    ),
  );
}
