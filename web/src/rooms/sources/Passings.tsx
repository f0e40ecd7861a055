import Button from "@mui/material/Button";
import MenuItem from "@mui/material/MenuItem";
import Stack from "@mui/material/Stack";
import TextField from "@mui/material/TextField";
import type { Schemas } from "../../api/client";
import type { Asked } from "./asked";

type Passing = Schemas["Passing"];

interface PassingsProps {
  passing: Passing[];
  questions: Asked[];
  onChange: (passing: Passing[]) => void;
}

/** Answers that the next page is given in its address: only those chosen here. */
export function Passings({ passing, questions, onChange }: PassingsProps) {
  const set = (index: number, change: Partial<Passing>) =>
    onChange(passing.map((one, at) => (at === index ? { ...one, ...change } : one)));
  const first = questions[0]?.name ?? "";
  return (
    <>
      {passing.map((one, index) => (
        <Stack key={index} direction="row" spacing={1} sx={{ alignItems: "flex-end" }}>
          <TextField
            select
            label="Pass along"
            value={one.question}
            onChange={(event) => set(index, { question: event.target.value })}
          >
            {!questions.some((question) => question.name === one.question) && (
              <MenuItem value={one.question}>{one.question} (not in the form)</MenuItem>
            )}
            {questions.map((question) => (
              <MenuItem key={question.name} value={question.name}>
                {question.label || question.name}
              </MenuItem>
            ))}
          </TextField>
          <TextField
            label="As parameter"
            value={one.parameter}
            onChange={(event) => set(index, { parameter: event.target.value.trim() })}
          />
          <Button
            color="inherit"
            sx={{ flexShrink: 0 }}
            onClick={() => onChange(passing.filter((_, at) => at !== index))}
          >
            Remove
          </Button>
        </Stack>
      ))}
      <div>
        <Button onClick={() => onChange([...passing, { question: first, parameter: first }])}>
          Pass an answer along
        </Button>
      </div>
    </>
  );
}
