import Button from "@mui/material/Button";
import Checkbox from "@mui/material/Checkbox";
import FormControlLabel from "@mui/material/FormControlLabel";
import Stack from "@mui/material/Stack";
import TextField from "@mui/material/TextField";
import { useState } from "react";
import { QUESTIONS } from "../questions/registry";
import { freeName, inputName, renameQuestion, type Edit, type Question } from "../routeDocument";

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
  const [name, setName] = useState<string>();
  const rename = (wanted: string) =>
    edit((route) => renameQuestion(route, question.id, freeName(route, question.id, wanted)));
  /** Once the label is written, the name follows it. */
  const named = () => {
    const wanted = inputName(question.label);
    if (!ownName && wanted && wanted !== question.name) rename(wanted);
  };
  const kind = QUESTIONS[question.type];
  return (
    <Stack spacing={1.5} sx={{ py: 1 }}>
      <Stack direction="row" spacing={1.5}>
        <TextField
          autoFocus
          label={kind.labelled ?? "Question"}
          multiline={question.type === "consent"}
          value={question.label}
          onChange={(event) => set({ label: event.target.value })}
          onBlur={named}
        />
        <TextField
          label="Field name in the form"
          value={name ?? question.name}
          onChange={(event) => setName(event.target.value)}
          onBlur={() => {
            if (name !== undefined && name.trim() !== question.name) {
              setOwnName(true);
              rename(name.trim());
            }
            setName(undefined);
          }}
          sx={{ maxWidth: 200 }}
        />
      </Stack>
      {!kind.unseen && (
        <TextField
          label={`Help below ${kind.helps ?? "the question"}`}
          value={question.help}
          onChange={(event) => set({ help: event.target.value })}
        />
      )}
      <Stack direction="row" spacing={1.5} useFlexGap sx={{ flexWrap: "wrap" }}>
        {kind.Settings && <kind.Settings question={question} set={set} />}
        {kind.begins && (
          <TextField
            label={kind.unseen ? "Fixed value" : "Default value"}
            value={question.value}
            onChange={(event) => set({ value: event.target.value })}
            sx={{ width: 190 }}
          />
        )}
        {kind.fromPage && (
          <TextField
            label="Or from the page’s address: parameter"
            placeholder="utm_source"
            value={question.parameter}
            onChange={(event) => set({ parameter: event.target.value.trim() })}
            sx={{ width: 280 }}
          />
        )}
      </Stack>
      <Stack direction="row" spacing={2} sx={{ alignItems: "center" }}>
        <Button
          variant="outlined"
          onClick={() => {
            named();
            onDone();
          }}
        >
          Done
        </Button>
        {!kind.unseen && (
          <FormControlLabel
            control={
              <Checkbox
                size="small"
                checked={question.required}
                onChange={(event) => set({ required: event.target.checked })}
              />
            }
            label="Required"
          />
        )}
      </Stack>
    </Stack>
  );
}
