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
import Typography from "@mui/material/Typography";
import { Fragment, useCallback, useMemo, type ReactNode } from "react";
import { announced } from "../../parts/announced";
import { DoorList } from "./DoorList";
import { keyOf, rowsOf, segmentsOf } from "./clock";
import { isJoined, joining, movedTo, placeOf, stepAdded } from "./sequenceDocument";
import type { AddStep } from "./StepRows";
import { newStep } from "./steps/registry";
import {
  ClockCell,
  LaneFoot,
  LaneHead,
  SegmentSteps,
  shortName,
  type LanesProps,
} from "./LaneCells";

const MARGIN = 96;
const LANE = 208;

/** The lanes side by side under one clock in the margin, read downwards like a timetable; those that
 * are only joined stand below, across the whole width. */
export function Lanes(shown: Omit<LanesProps, "names" | "onAdd">) {
  const { document, edit, onSelect } = shown;
  // The same as long as no lane has another name, so that a key in one step renders no other.
  const called = JSON.stringify(document.lanes.map((one) => [one.id, one.name]));
  const names = useMemo(
    () => Object.fromEntries(JSON.parse(called) as [string, string][]),
    [called],
  );
  const onAdd = useCallback<AddStep>(
    (kind, lane, after) => {
      const { id } = newStep(kind, false);
      edit((before) =>
        stepAdded(before, lane, after, (asked) => ({ ...newStep(kind, asked), id })),
      );
      onSelect({ kind: "step", id });
    },
    [edit, onSelect],
  );
  const props = { ...shown, names, onAdd };
  const sensors = useSensors(
    useSensor(PointerSensor, { activationConstraint: { distance: 4 } }),
    useSensor(KeyboardSensor, { coordinateGetter: sortableKeyboardCoordinates }),
  );
  const beside = document.lanes.filter((one) => !isJoined(document, one));
  const below = document.lanes.filter((one) => isJoined(document, one));
  const rows = rowsOf(beside);
  const order = document.lanes.flatMap((one) => one.steps.map((step) => step.id)).join("\n");
  const ids = useMemo(() => order.split("\n"), [order]);
  const columns = `${MARGIN}px repeat(${Math.max(1, beside.length)}, minmax(${LANE}px, 1fr))`;
  return (
    <DndContext
      sensors={sensors}
      collisionDetection={closestCenter}
      accessibility={{
        announcements: announced(
          (id) => shown.words[id] ?? "the step",
          (id) => {
            const at = placeOf(document, String(id));
            return at
              ? `${at.index + 1} of ${at.lane.steps.length} in ${at.lane.name}`
              : "no place";
          },
        ),
      }}
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
                    joined by {joining(document, lane).map(shortName).join(", ")}
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
