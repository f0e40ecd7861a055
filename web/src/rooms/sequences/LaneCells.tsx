import Button from "@mui/material/Button";
import Stack from "@mui/material/Stack";
import Typography from "@mui/material/Typography";
import type { Schemas } from "../../api/client";
import { AddMenu } from "../../parts/AddMenu";
import { clockWords, keyOf, segmentsOf, type Moment, type Segment } from "./clock";
import { OFFERED_STEPS } from "./steps/registry";
import { type Step, type Lane, type Selection, type SequenceDocument } from "./sequenceDocument";
import { StepRow, WaitRow, type AddStep } from "./StepRows";
import { wayWords, type LaneNames } from "./words";

/** What a rehearsal says of a step: when the person comes there, and by which way they go on. */
export type Rehearsed = Record<string, { times: string[]; way: string; moved: string }>;

export interface LanesProps {
  /** The id of the sequence. */
  sequence: string;
  document: SequenceDocument;
  words: Record<string, string>;
  headings: Record<string, Schemas["Heading"]>;
  names: LaneNames;
  counts: Schemas["StepCount"][];
  findings: Schemas["Finding"][];
  routes: Schemas["DoorOut"][];
  readOnly: boolean;
  selection: Selection | undefined;
  onSelect: (selection: Selection | undefined) => void;
  onAdd: AddStep;
  edit: (change: (before: SequenceDocument) => SequenceDocument) => void;
  rehearsed?: Rehearsed | undefined;
}

/** "A" of "A · Telescopes", else the whole name. */
export function shortName(lane: Lane): string {
  return lane.name.split(" · ")[0] ?? lane.name;
}

export function LaneHead(props: LanesProps & { lane: Lane }) {
  const { lane, selection, readOnly, onSelect, onAdd } = props;
  const selected = selection?.kind === "lane" && selection.id === lane.id;
  return (
    <Stack direction="row" sx={{ alignItems: "flex-start", justifyContent: "space-between" }}>
      <Button
        id={lane.id}
        color="inherit"
        aria-pressed={selected}
        onClick={() => onSelect({ kind: "lane", id: lane.id })}
        sx={{
          p: 0,
          display: "block",
          fontSize: "0.875rem",
          textAlign: "left",
          whiteSpace: "normal",
          ...(selected && { outline: 2, outlineColor: "primary.main" }),
        }}
      >
        {lane.name}
      </Button>
      {!readOnly && (
        <AddMenu
          small
          label={`Add a step at the top of ${lane.name}`}
          options={OFFERED_STEPS}
          onAdd={(kind) => onAdd(kind, lane.id)}
        />
      )}
    </Stack>
  );
}

/** The clock of a row; in a rehearsal the real dates on which the person comes there. */
export function ClockCell({ row, lanes, rehearsed }: LanesProps & { row: Moment; lanes: Lane[] }) {
  const steps = lanes.flatMap(
    (lane) => segmentsOf(lane).find((one) => keyOf(one.at) === keyOf(row))?.steps ?? [],
  );
  const there = steps.map((step) => rehearsed?.[step.id]).find(Boolean);
  if (!there)
    return (
      <Typography
        variant="body2"
        sx={{ fontWeight: 600, opacity: rehearsed ? 0.4 : 1, overflowWrap: "anywhere" }}
      >
        {clockWords(row)}
      </Typography>
    );
  return (
    <>
      <Typography variant="body2" sx={{ fontWeight: 600 }}>
        {there.times[0]}
      </Typography>
      {there.moved && (
        <Typography variant="caption" component="div" color="warning">
          {there.moved}
        </Typography>
      )}
    </>
  );
}

export function SegmentSteps(props: LanesProps & { lane: Lane; segment: Segment | undefined }) {
  const { lane, segment, names, words, headings, counts, findings, selection } = props;
  const { onSelect, onAdd, readOnly, rehearsed } = props;
  if (!segment) return null;
  const whole = Math.max(
    0,
    ...lane.steps.map((step) => counts.find((one) => one.step === step.id)?.came ?? 0),
  );
  const shared = (step: Step) => {
    const own = findings.filter((one) => one.place === step.id);
    return {
      step,
      name: words[step.id],
      count: counts.find((one) => one.step === step.id),
      wrong: own.find((one) => one.stops) ?? own[0],
      selected: selection?.kind === "step" && selection.id === step.id,
      rehearsed: rehearsed && (rehearsed[step.id] ?? null),
      readOnly,
      lane: lane.id,
      onSelect,
      onAdd,
    };
  };
  return (
    <>
      {segment.waits.map((step) => (
        <WaitRow key={step.id} {...shared(step)} />
      ))}
      {segment.steps.map((step) => (
        <StepRow
          key={step.id}
          {...shared(step)}
          lanes={names}
          heading={headings[step.id]}
          whole={whole}
        />
      ))}
    </>
  );
}

/** Where a lane leads, and what can be added at its end. */
export function LaneFoot(props: LanesProps & { lane: Lane }) {
  const { lane, names, readOnly, onAdd, findings } = props;
  const wrong = findings.find((one) => one.place === `end-${lane.id}`);
  return (
    <>
      {lane.then.to === "lane" && (
        <Typography variant="body2" color="info">
          {wayWords(lane.then, names)}
        </Typography>
      )}
      {wrong && (
        <Typography variant="caption" component="div" color="error" id={`end-${lane.id}`}>
          ▲ {wrong.sentence}
        </Typography>
      )}
      {!readOnly && (
        <AddMenu
          label="Add a step"
          options={OFFERED_STEPS}
          onAdd={(kind) => onAdd(kind, lane.id, lane.steps.at(-1)?.id)}
        />
      )}
    </>
  );
}
