import {
  closestCenter,
  DndContext,
  KeyboardSensor,
  PointerSensor,
  useSensor,
  useSensors,
} from "@dnd-kit/core";
import {
  SortableContext,
  sortableKeyboardCoordinates,
  verticalListSortingStrategy,
} from "@dnd-kit/sortable";
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Typography from "@mui/material/Typography";
import { Fragment, type ReactNode } from "react";
import type { Schemas } from "../../api/client";
import { AddMenu } from "../../parts/AddMenu";
import { SortableLine } from "../../parts/Sortable";
import { DoorList } from "./DoorList";
import {
  clockWords,
  inserted,
  isJoined,
  keyOf,
  movedTo,
  newStep,
  placeOf,
  rowsOf,
  segmentsOf,
  STEPS,
  wayWords,
  type Lane,
  type Moment,
  type NewStep,
  type Segment,
  type Selection,
  type SequenceDocument,
} from "./sequenceDocument";
import { StepCard } from "./StepCard";

/** What a rehearsal says of a step: when the person comes there, and by which way they go on. */
export type Rehearsed = Record<string, { times: string[]; way: string; moved: string }>;

interface LanesProps {
  document: SequenceDocument;
  said: Record<string, string>;
  counts: Schemas["StepCount"][];
  findings: Schemas["Finding"][];
  routes: Schemas["DoorOut"][];
  readOnly: boolean;
  selection: Selection | undefined;
  onSelect: (selection: Selection | undefined) => void;
  edit: (change: (before: SequenceDocument) => SequenceDocument) => void;
  rehearsed?: Rehearsed | undefined;
}

const MARGIN = 96;
const LANE = 208;

/** The lanes side by side under one clock in the margin, read downwards like a timetable; those that
 * are only joined stand below, across the whole width. */
export function Lanes(props: LanesProps) {
  const { document, edit } = props;
  const sensors = useSensors(
    useSensor(PointerSensor, { activationConstraint: { distance: 4 } }),
    useSensor(KeyboardSensor, { coordinateGetter: sortableKeyboardCoordinates }),
  );
  const beside = document.lanes.filter((one) => !isJoined(document, one));
  const below = document.lanes.filter((one) => isJoined(document, one));
  const rows = rowsOf(beside);
  const ids = document.lanes.flatMap((one) => one.steps.map((step) => step.id));
  const columns = `${MARGIN}px repeat(${Math.max(1, beside.length)}, minmax(${LANE}px, 1fr))`;
  return (
    <DndContext
      sensors={sensors}
      collisionDetection={closestCenter}
      onDragEnd={({ active, over }) => {
        if (over) edit((before) => movedTo(before, String(active.id), String(over.id)));
      }}
    >
      <SortableContext items={ids} strategy={verticalListSortingStrategy}>
        <Box
          role="region"
          aria-label="Lanes"
          tabIndex={0}
          sx={{ overflowX: "auto", border: 1, borderColor: "divider", bgcolor: "background.paper" }}
        >
          <Box sx={{ display: "grid", gridTemplateColumns: columns, minWidth: "min-content" }}>
            <Cell margin>
              <Typography variant="body2" sx={{ fontWeight: 600 }}>
                Doors
              </Typography>
              <Typography variant="caption" color="textSecondary">
                how people enter
              </Typography>
            </Cell>
            {beside.map((lane) => (
              <Cell key={lane.id} paper>
                <LaneHead {...props} lane={lane} />
                <DoorList {...props} lane={lane.id} />
              </Cell>
            ))}
            {rows.map((row) => (
              <Fragment key={keyOf(row)}>
                <Cell margin>
                  <ClockCell {...props} row={row} lanes={beside} />
                </Cell>
                {beside.map((lane) => (
                  <Cell key={lane.id}>
                    <SegmentSteps
                      {...props}
                      lane={lane}
                      segment={segmentsOf(lane).find((one) => keyOf(one.at) === keyOf(row))}
                    />
                  </Cell>
                ))}
              </Fragment>
            ))}
            <Cell margin />
            {beside.map((lane) => (
              <Cell key={lane.id}>
                <LaneFoot {...props} lane={lane} />
              </Cell>
            ))}
            {below.map((lane) => (
              <Fragment key={lane.id}>
                <Cell margin>
                  <LaneHead {...props} lane={lane} />
                  <Typography variant="caption" color="textSecondary">
                    joined by{" "}
                    {document.lanes
                      .filter((one) => one.then.to === "lane" && one.then.lane === lane.id)
                      .map((one) => shortName(one))
                      .join(", ")}
                  </Typography>
                </Cell>
                <Cell span={Math.max(1, beside.length)}>
                  {segmentsOf(lane).map((segment) => (
                    <Box key={keyOf(segment.at)} sx={{ mb: 0.5 }}>
                      <SegmentSteps {...props} lane={lane} segment={segment} />
                    </Box>
                  ))}
                  <LaneFoot {...props} lane={lane} />
                </Cell>
              </Fragment>
            ))}
          </Box>
        </Box>
      </SortableContext>
    </DndContext>
  );
}

/** "A" of "A · Telescopes", else the whole name. */
export function shortName(lane: Lane): string {
  return lane.name.split(" · ")[0] ?? lane.name;
}

function Cell(props: { margin?: boolean; paper?: boolean; span?: number; children?: ReactNode }) {
  const { margin, paper, span, children } = props;
  return (
    <Box
      sx={{
        minWidth: 0,
        px: 1,
        py: 0.75,
        borderBottom: 1,
        borderRight: 1,
        borderColor: "divider",
        bgcolor: margin || paper ? "background.default" : "background.paper",
        ...(margin && { position: "sticky", left: 0, zIndex: 2 }),
        ...(span && { gridColumn: `span ${span}` }),
      }}
    >
      {children}
    </Box>
  );
}

function LaneHead({ lane, selection, onSelect }: LanesProps & { lane: Lane }) {
  const selected = selection?.kind === "lane" && selection.id === lane.id;
  return (
    <Button
      color="inherit"
      aria-pressed={selected}
      onClick={() => onSelect({ kind: "lane", id: lane.id })}
      sx={{
        p: 0,
        fontSize: "0.875rem",
        textAlign: "left",
        whiteSpace: "normal",
        ...(selected && { outline: 2, outlineColor: "primary.main" }),
      }}
    >
      {lane.name}
    </Button>
  );
}

/** The clock of a row; in a rehearsal the real dates on which the person comes there. */
function ClockCell({ row, lanes, rehearsed }: LanesProps & { row: Moment; lanes: Lane[] }) {
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

function SegmentSteps(props: LanesProps & { lane: Lane; segment: Segment | undefined }) {
  const { lane, segment, document, said, counts, findings, selection, onSelect, readOnly } = props;
  const { rehearsed } = props;
  if (!segment) return null;
  const whole = Math.max(
    0,
    ...lane.steps.map((step) => counts.find((one) => one.step === step.id)?.came ?? 0),
  );
  return (
    <>
      {segment.waits.map((step) => {
        const selected = selection?.id === step.id;
        const count = counts.find((one) => one.step === step.id);
        const wrong = findings.find((one) => one.place === step.id);
        return (
          <SortableLine
            key={step.id}
            id={step.id}
            name={said[step.id] ?? "the wait"}
            disabled={readOnly}
          >
            <Box
              component="button"
              type="button"
              id={step.id}
              aria-pressed={selected}
              onClick={() => onSelect({ kind: "step", id: step.id })}
              sx={{
                display: "block",
                width: "100%",
                minHeight: 28,
                textAlign: "left",
                font: "inherit",
                color: "text.secondary",
                bgcolor: "transparent",
                border: 2,
                borderColor: selected ? "primary.main" : "transparent",
                borderRadius: 0.5,
                pl: 1.5,
                cursor: "pointer",
                opacity: rehearsed && !rehearsed[step.id] ? 0.4 : 1,
                "&:hover": { bgcolor: "action.hover" },
                "&:focus-visible": { outline: 2, outlineColor: "primary.main" },
              }}
            >
              <Box
                component="span"
                sx={{ borderLeft: 2, borderColor: "divider", pl: 1, display: "block" }}
              >
                <Typography variant="caption" component="span">
                  {said[step.id] ?? "wait"}
                  {count && count.waiting > 0 && ` · ${count.waiting} waiting`}
                </Typography>
                {wrong && (
                  <Typography
                    variant="caption"
                    component="div"
                    color={wrong.stops ? "error" : "warning"}
                  >
                    {wrong.stops ? "▲" : "△"} {wrong.sentence}
                  </Typography>
                )}
              </Box>
            </Box>
          </SortableLine>
        );
      })}
      {segment.steps.map((step) => (
        <SortableLine
          key={step.id}
          id={step.id}
          name={said[step.id] ?? "the step"}
          disabled={readOnly}
        >
          <Box sx={{ pl: readOnly ? 0 : 1 }}>
            <StepCard
              step={step}
              document={document}
              said={said[step.id] ?? `${step.kind} …`}
              count={counts.find((one) => one.step === step.id)}
              whole={whole}
              findings={findings.filter((one) => one.place === step.id)}
              selected={selection?.kind === "step" && selection.id === step.id}
              rehearsed={rehearsed && (rehearsed[step.id] ?? null)}
              onOpen={() => onSelect({ kind: "step", id: step.id })}
            />
          </Box>
        </SortableLine>
      ))}
    </>
  );
}

/** Where a lane leads, and what can be added to it: below the open step, or at its end. */
function LaneFoot(props: LanesProps & { lane: Lane }) {
  const { lane, document, edit, readOnly, selection, onSelect, findings } = props;
  const wrong = findings.find((one) => one.place === `end-${lane.id}`);
  const add = (kind: NewStep) => {
    const open = selection?.kind === "step" ? placeOf(document, selection.id) : undefined;
    const at = open?.lane.id === lane.id ? open.index + 1 : undefined;
    const step = newStep(kind, lane.steps.length === 0);
    edit((before) => inserted(before, lane.id, step, at));
    onSelect({ kind: "step", id: step.id });
  };
  return (
    <>
      {lane.then.to === "lane" && (
        <Typography variant="body2" color="info">
          {wayWords(lane.then, document)}
        </Typography>
      )}
      {wrong && (
        <Typography variant="caption" component="div" color="error" id={`end-${lane.id}`}>
          ▲ {wrong.sentence}
        </Typography>
      )}
      {!readOnly && <AddMenu label="Add a step" options={STEPS} onAdd={add} />}
    </>
  );
}
