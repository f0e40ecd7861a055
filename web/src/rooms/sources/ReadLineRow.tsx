import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Checkbox from "@mui/material/Checkbox";
import FormControlLabel from "@mui/material/FormControlLabel";
import MenuItem from "@mui/material/MenuItem";
import Stack from "@mui/material/Stack";
import TextField from "@mui/material/TextField";
import { Picker } from "../../parts/Picker";
import { useMaking } from "../../parts/useMaking";
import { fieldTypeFor, type Field, type Question, type ReadLine } from "./routeDocument";

interface ReadLineRowProps {
  line: ReadLine;
  questions: Question[];
  fields: Field[];
  readOnly: boolean;
  onChange: (change: Partial<ReadLine>) => void;
  onRemove: () => void;
}

/** One line of the map: question, field, and how it is read and written. */
export function ReadLineRow(props: ReadLineRowProps) {
  const { line, questions, fields, readOnly, onChange, onRemove } = props;
  const making = useMaking();
  const question = questions.find((one) => one.name === line.question);
  const field = fields.find((one) => one.id === line.field);
  const isName = question?.type === "name" && (field?.type ?? "text") === "text";
  const options = questions.some((one) => one.name === line.question)
    ? questions.map((one) => [one.name, one.label || one.name])
    : [
        [line.question, `${line.question || "no question"} (not in the form)`],
        ...questions.map((one) => [one.name, one.label || one.name]),
      ];
  const makeField = (label: string) =>
    making.field(label, fieldTypeFor(question), question?.choices ?? []);
  return (
    <Box
      role="group"
      aria-label={`Line: ${question?.label || line.question}`}
      sx={{
        display: "grid",
        gridTemplateColumns: {
          xs: "1fr",
          sm: "minmax(0,5fr) 16px minmax(0,5fr) minmax(0,4fr) auto",
        },
        gap: 1,
        alignItems: "center",
        pt: 0.75,
      }}
    >
      <TextField
        select
        label="Question"
        value={line.question}
        disabled={readOnly}
        error={!question}
        onChange={(event) => onChange({ question: event.target.value })}
      >
        {options.map(([name, label]) => (
          <MenuItem key={name} value={name}>
            {label}
          </MenuItem>
        ))}
      </TextField>
      <Box aria-hidden sx={{ textAlign: "center" }}>
        →
      </Box>
      <Picker
        label="Field"
        options={fields.map((one) => ({ id: one.id, name: one.label }))}
        value={line.field ?? null}
        disabled={readOnly}
        onChange={(id) => onChange({ field: id })}
        onMake={makeField}
        makes={`${FIELD_WORDS[fieldTypeFor(question)]} field`}
      />
      <TextField
        select
        label="Writes"
        value={line.overwrite}
        disabled={readOnly}
        onChange={(event) => onChange({ overwrite: event.target.value as ReadLine["overwrite"] })}
      >
        <MenuItem value="always">always</MenuItem>
        <MenuItem value="if_empty">only if empty</MenuItem>
        <MenuItem value="never">never</MenuItem>
      </TextField>
      {!readOnly && (
        <Button
          color="inherit"
          onClick={onRemove}
          aria-label={`Remove the line for ${question?.label || line.question}`}
        >
          Remove
        </Button>
      )}
      {isName && (
        <Stack direction="row" spacing={2} sx={{ gridColumn: "1 / -1", alignItems: "center" }}>
          <TextField
            select
            variant="standard"
            value={line.part}
            disabled={readOnly}
            onChange={(event) => onChange({ part: event.target.value as ReadLine["part"] })}
            sx={{ maxWidth: 220 }}
            slotProps={{ htmlInput: { "aria-label": "Part of the name" } }}
          >
            <MenuItem value="whole">the whole answer</MenuItem>
            <MenuItem value="first">first name of it</MenuItem>
            <MenuItem value="last">last name of it</MenuItem>
          </TextField>
          <FormControlLabel
            control={
              <Checkbox
                size="small"
                checked={line.case_right}
                disabled={readOnly}
                onChange={(event) => onChange({ case_right: event.target.checked })}
              />
            }
            label="Set case right (INES, ines → Ines)"
          />
        </Stack>
      )}
    </Box>
  );
}

const FIELD_WORDS: Record<string, string> = {
  text: "text",
  choice: "single-choice",
  yes_no: "yes-or-no",
};
