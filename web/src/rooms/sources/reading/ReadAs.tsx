import { counted } from "../../../parts/formats";
import Button from "@mui/material/Button";
import Stack from "@mui/material/Stack";
import Typography from "@mui/material/Typography";
import { useState } from "react";
import { Band, BandRow } from "../../../parts/Band";
import { FindingsAt } from "../../../parts/Findings";
import { newId } from "../../../parts/newId";
import { askedBy, type Asked } from "../asked";
import { useRoute } from "../RouteContext";
import { Operation } from "./Operation";
import { OutcomeSample } from "../OutcomeSample";
import { Proposals } from "./Proposals";
import { emptyLine, linesFor, type ReadLine } from "../routeDocument";
import { ReadLineRow } from "./ReadLineRow";
import { ReadSample } from "./ReadSample";

/** The map: one line for each answer that goes into a field, and the answers that do not. */
export function ReadAs() {
  const { source, document, edit, catalogue, sample, findings, readOnly, choice, seen } =
    useRoute();
  const [proposing, setProposing] = useState(false);
  const [editing, setEditing] = useState("");
  const asked = askedBy(document, seen);
  const lines = document.read_as;
  const mapped = new Set(lines.flatMap((one) => [one.question, ...one.also]));
  for (const one of document.consent) mapped.add(one.question);
  const unmapped = asked.filter((one) => one.group !== "Other data" && !mapped.has(one.name));
  const open = findings.filter((one) => lines.some((line) => line.id === one.place)).length;
  const setLines = (change: (lines: ReadLine[]) => ReadLine[]) =>
    edit((route) => ({ ...route, read_as: change(route.read_as) }));
  const add = (added: ReadLine[]) => {
    setLines((all) => [...all, ...added]);
    // What has a field already is a sentence; what has none asks for one.
    setEditing(added.find((one) => !one.field)?.id ?? "");
  };
  const map = (one: Asked) =>
    add(
      one.question && one.name === one.question.name
        ? linesFor(one.question, catalogue.fields)
        : [emptyLine(one.name)],
    );
  const note = open
    ? counted(open, "line to fix", "lines to fix")
    : unmapped.length
      ? `${unmapped.length} not mapped`
      : lines.length
        ? "all mapped"
        : "";
  return (
    <Band name="Read as" id="read_as" note={note}>
      <BandRow id="operation" sample={choice && <OutcomeSample sample={sample} line="operation" />}>
        <Operation document={document} asked={asked} readOnly={readOnly} edit={edit} />
        <FindingsAt findings={findings} place="operation" />
      </BandRow>
      {lines.length === 0 && (
        <BandRow>
          <Typography color="textSecondary">No answer goes into a field yet.</Typography>
        </BandRow>
      )}
      {lines.map((line) => (
        <BandRow
          key={line.id}
          id={line.id}
          ruled
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
            asked={asked}
            kind={source.kind}
            fields={catalogue.fields}
            readOnly={readOnly}
            open={!readOnly && editing === line.id}
            onOpen={(opens) => setEditing(opens ? line.id : "")}
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
      {proposing && (
        <Proposals
          source={source.id}
          mapped={mapped}
          onClose={() => setProposing(false)}
          onTake={(taken) => {
            setLines((all) => [...all, ...taken.map((one) => ({ ...one, id: newId("r") }))]);
            setProposing(false);
          }}
        />
      )}
      <Stack
        direction="row"
        spacing={1}
        useFlexGap
        sx={{ pt: 0.75, pl: 1.5, flexWrap: "wrap", alignItems: "center" }}
      >
        {!readOnly && (
          <>
            <Button onClick={() => add([emptyLine(unmapped[0]?.name ?? "")])}>Add a line</Button>
            <Button onClick={() => add([{ ...emptyLine(""), constant: "fixed value" }])}>
              Add a fixed value
            </Button>
            {unmapped.length > 1 && !proposing && (
              <Button onClick={() => setProposing(true)}>Propose lines for all</Button>
            )}
          </>
        )}
        {unmapped.length > 0 && (
          <Typography variant="body2" color="textSecondary">
            Not mapped:
          </Typography>
        )}
        {unmapped.slice(0, 12).map((one) =>
          readOnly ? (
            <Typography key={one.name} variant="body2">
              {one.label}
            </Typography>
          ) : (
            <Button key={one.name} variant="outlined" onClick={() => map(one)}>
              Map “{one.label}”
            </Button>
          ),
        )}
        {unmapped.length > 12 && (
          <Typography variant="body2">and {unmapped.length - 12} more</Typography>
        )}
      </Stack>
      <FindingsAt findings={findings} place="read_as" />
    </Band>
  );
}
