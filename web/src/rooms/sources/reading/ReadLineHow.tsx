import Checkbox from "@mui/material/Checkbox";
import FormControlLabel from "@mui/material/FormControlLabel";
import MenuItem from "@mui/material/MenuItem";
import Stack from "@mui/material/Stack";
import TextField from "@mui/material/TextField";
import type { Asked } from "../asked";
import { CountryPicker } from "../../../parts/CountryPicker";
import { QuestionPicker } from "../QuestionPicker";
import type { Field, ReadLine } from "../routeDocument";

interface ReadLineHowProps {
  line: ReadLine;
  asked: Asked[];
  question: Asked | undefined;
  field: Field | undefined;
  readOnly: boolean;
  onChange: (change: Partial<ReadLine>) => void;
}

const words = (text: string) =>
  text
    .split(",")
    .map((one) => one.trim())
    .filter(Boolean);

/** How a line reads and writes: overwriting, a fallback, parts of names, orders of dates. */
export function ReadLineHow(props: ReadLineHowProps) {
  const { line, asked, question, field, readOnly, onChange } = props;
  const isText = field?.type === "text" || field === undefined;
  const select = (
    label: string,
    value: string,
    options: [string, string][],
    set: (value: string) => void,
  ) => (
    <TextField
      select
      label={label}
      value={value}
      disabled={readOnly}
      onChange={(event) => set(event.target.value)}
      sx={{ maxWidth: 210 }}
    >
      {options.map(([key, text]) => (
        <MenuItem key={key} value={key}>
          {text}
        </MenuItem>
      ))}
    </TextField>
  );
  return (
    <Stack spacing={1.5} sx={{ gridColumn: "1 / -1", py: 1 }}>
      <Stack direction="row" spacing={1.5} useFlexGap sx={{ flexWrap: "wrap" }}>
        {select(
          "Writes",
          line.overwrite,
          [
            ["always", "always"],
            ["if_empty", "only if empty"],
            ["never", "never"],
          ],
          (value) => onChange({ overwrite: value as ReadLine["overwrite"] }),
        )}
        <TextField
          label="If there is no answer"
          value={line.fallback}
          disabled={readOnly}
          onChange={(event) => onChange({ fallback: event.target.value })}
          sx={{ maxWidth: 210 }}
        />
        {isText &&
          select(
            "Part of a name",
            line.part,
            [
              ["whole", "the whole answer"],
              ["first", "first name of it"],
              ["last", "last name of it"],
            ],
            (value) => onChange({ part: value as ReadLine["part"] }),
          )}
        {field?.type === "date" &&
          select(
            "Order of dates",
            line.date_order,
            [
              ["unstated", "year first, else ask"],
              ["day_first", "day first (31/12/2026)"],
              ["month_first", "month first (12/31/2026)"],
            ],
            (value) => onChange({ date_order: value as ReadLine["date_order"] }),
          )}
        {field?.type === "number" &&
          select(
            "Decimal mark",
            line.decimal_mark,
            [
              [".", "point (1,250.5)"],
              [",", "comma (1.250,5)"],
            ],
            (value) => onChange({ decimal_mark: value as ReadLine["decimal_mark"] }),
          )}
        {field?.type === "phone" && (
          <CountryPicker
            label="Country of numbers without +"
            value={line.country}
            disabled={readOnly}
            onChange={(country) => onChange({ country })}
          />
        )}
        {field?.type === "yes_no" && (
          <>
            <TextField
              label="Also a yes (commas between)"
              defaultValue={line.yes_words.join(", ")}
              disabled={readOnly}
              onChange={(event) => onChange({ yes_words: words(event.target.value) })}
              sx={{ maxWidth: 210 }}
            />
            <TextField
              label="Also a no"
              defaultValue={line.no_words.join(", ")}
              disabled={readOnly}
              onChange={(event) => onChange({ no_words: words(event.target.value) })}
              sx={{ maxWidth: 210 }}
            />
          </>
        )}
        {question && (isText || field.type === "long_text") && (
          <Stack sx={{ width: 210 }}>
            <QuestionPicker
              label="Followed by the answer to"
              asked={asked.filter((one) => one.name !== line.question)}
              value={line.also[0] ?? ""}
              disabled={readOnly}
              onChange={(name) => onChange({ also: name ? [name] : [] })}
            />
          </Stack>
        )}
      </Stack>
      <Stack direction="row" spacing={2}>
        {isText && (
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
        )}
        <FormControlLabel
          control={
            <Checkbox
              size="small"
              checked={line.erases}
              disabled={readOnly || line.overwrite !== "always"}
              onChange={(event) => onChange({ erases: event.target.checked })}
            />
          }
          label="An empty answer empties the field"
        />
      </Stack>
    </Stack>
  );
}
