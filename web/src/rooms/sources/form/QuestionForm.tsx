import Button from "@mui/material/Button";
import Checkbox from "@mui/material/Checkbox";
import FormControlLabel from "@mui/material/FormControlLabel";
import MenuItem from "@mui/material/MenuItem";
import Stack from "@mui/material/Stack";
import TextField from "@mui/material/TextField";
import { useState } from "react";
import { ChoicesEditor } from "./ChoicesEditor";
import { CountryPicker } from "../../../parts/CountryPicker";
import {
  freeName,
  inputName,
  isChoice,
  renameQuestion,
  type Edit,
  type Question,
} from "../routeDocument";

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
  const hidden = question.type === "hidden";
  return (
    <Stack spacing={1.5} sx={{ py: 1 }}>
      <Stack direction="row" spacing={1.5}>
        <TextField
          autoFocus
          label={LABELS[question.type] ?? "Question"}
          multiline={question.type === "consent"}
          value={question.label}
          onChange={(event) => set({ label: event.target.value })}
          onBlur={named}
        />
        <TextField
          label="Name of the input"
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
      {!hidden && (
        <TextField
          label={question.type === "consent" ? "Help below the box" : "Help below the question"}
          value={question.help}
          onChange={(event) => set({ help: event.target.value })}
        />
      )}
      {isChoice(question) && (
        <ChoicesEditor choices={question.choices} onChange={(choices) => set({ choices })} />
      )}
      <Stack direction="row" spacing={1.5} useFlexGap sx={{ flexWrap: "wrap" }}>
        {isChoice(question) && (
          <TextField
            select
            label="Shown as"
            value={question.look}
            onChange={(event) => set({ look: event.target.value as Question["look"] })}
            sx={{ width: 190 }}
          >
            <MenuItem value="list">one below the other</MenuItem>
            <MenuItem value="buttons">buttons in a row</MenuItem>
            {question.type === "choice" && <MenuItem value="drop_down">a drop-down</MenuItem>}
          </TextField>
        )}
        {question.type === "name" && (
          <TextField
            select
            label="Boxes"
            value={question.boxes}
            onChange={(event) => set({ boxes: Number(event.target.value) as 1 | 2 })}
            sx={{ width: 240 }}
          >
            <MenuItem value={1}>one for the whole name</MenuItem>
            <MenuItem value={2}>one each for first and last name</MenuItem>
          </TextField>
        )}
        {question.type === "phone" && (
          <CountryPicker
            label="Country of numbers without +"
            value={question.country}
            onChange={(country) => set({ country })}
          />
        )}
        {takesValue(question) && (
          <TextField
            label={hidden ? "Fixed value" : "Default value"}
            value={question.value}
            onChange={(event) => set({ value: event.target.value })}
            sx={{ width: 190 }}
          />
        )}
        {question.type !== "consent" && question.type !== "address" && (
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
        {!hidden && (
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

const LABELS: Partial<Record<Question["type"], string>> = {
  hidden: "What it holds",
  consent: "What they agree to, as it is shown and kept",
};

/** Whether a question can begin with a value; a box to tick never begins ticked. */
function takesValue(question: Question): boolean {
  return !isChoice(question) && !["yes_no", "consent", "address"].includes(question.type);
}
