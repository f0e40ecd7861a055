import Button from "@mui/material/Button";
import Stack from "@mui/material/Stack";
import Typography from "@mui/material/Typography";
import { Band, BandRow } from "../../parts/Band";
import { FindingsAt } from "../../parts/Findings";
import { counted } from "../../parts/moment";
import { newId } from "../../parts/newId";
import type { BandsProps } from "./Bands";
import { linesFor, type Question, type ReadLine } from "./routeDocument";
import { ReadLineRow } from "./ReadLineRow";
import { ReadSample } from "./ReadSample";

/** The map: one line for each answer that goes into a field, and the answers that do not. */
export function ReadAs(props: BandsProps) {
  const { document, edit, catalogue, sample, findings, readOnly, choice } = props;
  const questions = document.form.questions.filter((one) => one.name);
  const lines = document.read_as;
  const mapped = new Set(lines.map((one) => one.question));
  const unmapped = questions.filter((one) => !mapped.has(one.name));
  const open = findings.filter((one) => lines.some((line) => line.id === one.place)).length;
  const setLines = (change: (lines: ReadLine[]) => ReadLine[]) =>
    edit((route) => ({ ...route, read_as: change(route.read_as) }));
  const map = (question: Question) =>
    setLines((all) => [...all, ...linesFor(question, catalogue.fields)]);
  const addEmpty = () =>
    setLines((all) => [
      ...all,
      {
        id: newId("r"),
        question: unmapped[0]?.name ?? questions[0]?.name ?? "",
        field: null,
        part: "whole",
        case_right: false,
        overwrite: "always",
        fallback: "",
      },
    ]);
  const note = open
    ? counted(open, "line to mend", "lines to mend")
    : unmapped.length
      ? `${unmapped.length} not mapped`
      : "all mapped";
  return (
    <Band name="Read as" id="read_as" note={note}>
      {lines.length === 0 && (
        <BandRow>
          <Typography color="textSecondary">No answer goes into a field yet.</Typography>
        </BandRow>
      )}
      {lines.map((line, index) => (
        <BandRow
          key={line.id}
          id={line.id}
          ruled={index > 0}
          sample={
            choice && (
              <ReadSample
                report={sample?.decision.reading.find((one) => one.line === line.id)}
                field={catalogue.fields.find((one) => one.id === line.field)}
              />
            )
          }
        >
          <ReadLineRow
            line={line}
            questions={questions}
            fields={catalogue.fields}
            readOnly={readOnly}
            onChange={(change) =>
              setLines((all) =>
                all.map((one) => (one.id === line.id ? { ...one, ...change } : one)),
              )
            }
            onRemove={() => setLines((all) => all.filter((one) => one.id !== line.id))}
          />
          <FindingsAt findings={findings} place={line.id} />
        </BandRow>
      ))}
      <Stack
        direction="row"
        spacing={1}
        useFlexGap
        sx={{ pt: 0.75, pl: 1.5, flexWrap: "wrap", alignItems: "center" }}
      >
        {!readOnly && <Button onClick={addEmpty}>Add a line</Button>}
        {unmapped.length > 0 && (
          <Typography variant="body2" color="textSecondary">
            Kept, not mapped:
          </Typography>
        )}
        {unmapped.map((question) =>
          readOnly ? (
            <Typography key={question.id} variant="body2">
              {question.label || question.name}
            </Typography>
          ) : (
            <Button key={question.id} variant="outlined" onClick={() => map(question)}>
              Map “{question.label || question.name}”
            </Button>
          ),
        )}
      </Stack>
      <FindingsAt findings={findings} place="read_as" />
    </Band>
  );
}
