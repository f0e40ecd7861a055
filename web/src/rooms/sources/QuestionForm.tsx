import Button from "@mui/material/Button";
import Checkbox from "@mui/material/Checkbox";
import FormControlLabel from "@mui/material/FormControlLabel";
import Stack from "@mui/material/Stack";
import TextField from "@mui/material/TextField";
import { useState } from "react";
import { ChoicesEditor } from "./ChoicesEditor";
import { inputName, renameQuestion, type Edit, type Question } from "./routeDocument";

interface QuestionFormProps {
  question: Question;
  edit: Edit;
  onDone: () => void;
}

/** A question while it is edited. Its name follows its label until somebody sets it. */
export function QuestionForm({ question, edit, onDone }: QuestionFormProps) {
  const [ownName, setOwnName] = useState(
    question.name !== "" && question.name !== inputName(question.label),
  );
  const set = (change: Partial<Question>) =>
    edit((route) => ({
      ...route,
      form: {
        ...route.form,
        questions: route.form.questions.map((one) =>
          one.id === question.id ? { ...one, ...change } : one,
        ),
      },
    }));
  const rename = (name: string) =>
    question.name === ""
      ? set({ name })
      : edit((route) => renameQuestion(route, question.name, name));
  const relabel = (label: string) => {
    set({ label });
    if (!ownName && inputName(label)) rename(inputName(label));
  };
  const hidden = question.type === "hidden";
  return (
    <Stack spacing={1.5} sx={{ py: 1 }}>
      <Stack direction="row" spacing={1.5}>
        <TextField
          autoFocus
          label={hidden ? "What it holds" : "Question"}
          value={question.label}
          onChange={(event) => relabel(event.target.value)}
        />
        <TextField
          label="Name of the input"
          value={question.name}
          onChange={(event) => {
            setOwnName(true);
            rename(event.target.value.trim());
          }}
          sx={{ maxWidth: 200 }}
        />
      </Stack>
      {hidden ? (
        <Stack direction="row" spacing={1.5}>
          <TextField
            label="Fixed value"
            value={question.value}
            onChange={(event) => set({ value: event.target.value })}
          />
          <TextField
            label="Or from the page's address: parameter"
            placeholder="utm_source"
            value={question.parameter}
            onChange={(event) => set({ parameter: event.target.value.trim() })}
          />
        </Stack>
      ) : (
        <TextField
          label="Help below the question"
          value={question.help}
          onChange={(event) => set({ help: event.target.value })}
        />
      )}
      {question.type === "choice" && (
        <ChoicesEditor choices={question.choices} onChange={(choices) => set({ choices })} />
      )}
      <Stack direction="row" spacing={2} sx={{ alignItems: "center" }}>
        <Button variant="outlined" onClick={onDone}>
          Done
        </Button>
        {!hidden && (
          <FormControlLabel
            control={
              <Checkbox
                size="small"
                checked={question.required}
                onChange={(event) => set({ required: event.target.checked })}
              />
            }
            label="Needed"
          />
        )}
      </Stack>
    </Stack>
  );
}
