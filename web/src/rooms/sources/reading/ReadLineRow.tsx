import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import TextField from "@mui/material/TextField";
import Typography from "@mui/material/Typography";
import { useState } from "react";
import { LineTools } from "../../../parts/LineTools";
import { Named } from "../../../parts/Named";
import { Sentence } from "../../../parts/Sentence";
import { Picker } from "../../../parts/Picker";
import { useMaking } from "../../../parts/useMaking";
import { typical, type Asked } from "../asked";
import { FIELD_TYPES } from "../../fields/fieldTypes";
import { QuestionPicker } from "../QuestionPicker";
import { ReadLineHow } from "./ReadLineHow";
import type { Field, Kind, ReadLine } from "../routeDocument";

interface ReadLineRowProps {
  line: ReadLine;
  asked: Asked[];
  kind: Kind;
  fields: Field[];
  readOnly: boolean;
  /** Whether it is open to be edited. */
  open: boolean;
  onOpen: (open: boolean) => void;
  onChange: (change: Partial<ReadLine>) => void;
  onRemove: () => void;
}

/** One line of the map: question, field, and how it is read and written. A sentence, which opens. */
export function ReadLineRow(props: ReadLineRowProps) {
  const { line, asked, kind, fields, readOnly, open, onOpen, onChange, onRemove } = props;
  const making = useMaking();
  const [options, setOptions] = useState(false);
  const question = asked.find((one) => one.name === line.question);
  const field = fields.find((one) => one.id === line.field);
  const isConstant = line.question === "" && line.constant !== "";
  const type = question?.type ?? "text";
  const name = question?.label || line.question || (isConstant ? "a fixed value" : "no question");
  const makeField = (label: string) =>
    making.field(label, type === "email" ? "text" : type, choicesOf(question));
  return (
    <Sentence
      label={`Line: ${name}`}
      open={open}
      says={
        <>
          {isConstant && "Always "}
          <Named>{isConstant ? `“${line.constant}”` : name}</Named>
          {isConstant ? " in " : " becomes "}
          <Named>{field?.label ?? "no field yet"}</Named>
          {how(line).map((one) => `, ${one}`)}
        </>
      }
      tools={
        !readOnly && (
          <LineTools
            name={`the line for ${name}`}
            onEdit={() => onOpen(true)}
            onRemove={onRemove}
          />
        )
      }
    >
      <Box
        sx={{
          display: "grid",
          gridTemplateColumns: { xs: "1fr", sm: "minmax(0,5fr) 16px minmax(0,5fr) auto auto" },
          columnGap: 1,
          rowGap: { xs: 1, sm: 0 },
          alignItems: "flex-end",
        }}
      >
        {isConstant ? (
          <TextField
            label="Always the same"
            value={line.constant}
            disabled={readOnly}
            onChange={(event) => onChange({ constant: event.target.value })}
          />
        ) : (
          <QuestionPicker
            label="Question"
            asked={asked}
            value={line.question}
            disabled={readOnly}
            unknown={kind === "form"}
            typed={kind === "posted" || kind === "webhook"}
            onChange={(chosen) => onChange({ question: chosen })}
          />
        )}
        <Box aria-hidden sx={{ textAlign: "center", pb: 0.5 }}>
          →
        </Box>
        <Picker
          label="Field"
          options={fields.map((one) => ({ id: one.id, name: one.label }))}
          value={line.field ?? null}
          disabled={readOnly}
          onChange={(id) => onChange({ field: id })}
          onMake={makeField}
          makes={`${FIELD_TYPES[type === "email" ? "text" : type]} field`}
        />
        <Button
          aria-expanded={options}
          aria-label={`Options of ${name}`}
          onClick={() => setOptions(!options)}
        >
          Options
        </Button>
        <Button aria-label={`Done with the line for ${name}`} onClick={() => onOpen(false)}>
          Done
        </Button>
        <Typography variant="caption" color="textSecondary" sx={{ gridColumn: "1 / -1" }}>
          {[question && typical(question), ...how(line)].filter(Boolean).join(" · ")}
        </Typography>
        {options && (
          <ReadLineHow
            line={line}
            asked={asked}
            question={question}
            field={field}
            readOnly={readOnly}
            onChange={onChange}
          />
        )}
      </Box>
    </Sentence>
  );
}

function choicesOf(question: Asked | undefined) {
  if (question?.question) return question.question.choices;
  if (question?.type !== "choice") return [];
  return question.values.map((one) => ({ key: one.toLowerCase(), label: one, synonyms: [] }));
}

/** In words, what a line does besides writing the answer as it is. */
function how(line: ReadLine): string[] {
  return [
    line.also.length > 0 && `with ${line.also.join(", ")}`,
    line.part === "first" && "only the first name",
    line.part === "last" && "only the last name",
    line.case_right && "in its usual case",
    line.overwrite === "if_empty" && "only if the field is empty",
    line.overwrite === "never" && "but is never written",
    line.erases && "an empty answer empties it",
    line.fallback && `without an answer “${line.fallback}”`,
    line.date_order === "day_first" && "day first",
    line.date_order === "month_first" && "month first",
    line.decimal_mark === "," && "decimal comma",
  ].filter((one): one is string => Boolean(one));
}
