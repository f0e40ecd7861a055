import Box from "@mui/material/Box";
import Typography from "@mui/material/Typography";
import { memo } from "react";
import type { Schemas } from "../../api/client";
import { SortableLine } from "../../parts/Sortable";
import { AddMenu } from "../../parts/AddMenu";
import type { Selection, Step } from "./sequenceDocument";
import { StepCard } from "./StepCard";
import { OFFERED_STEPS, type NewStep } from "./steps/registry";
import type { LaneNames } from "./words";

interface RowProps {
  step: Step;
  lane: string;
  /** The step in words; none while the server has not seen it yet. */
  name: string | undefined;
  count: Schemas["StepCount"] | undefined;
  /** What is wrong with it, if anything: what stops first. */
  wrong: Schemas["Finding"] | undefined;
  selected: boolean;
  /** Of a rehearsal: null where the person does not come here. */
  rehearsed: { times: string[]; way: string } | null | undefined;
  readOnly: boolean;
  onSelect: (selection: Selection | undefined) => void;
  onAdd: AddStep;
}

/** Adds a step of a kind after another one; with none, at the top of a lane. */
export type AddStep = (kind: NewStep, lane: string, after?: string) => void;

/** Adds a step below a row: seen where the pointer or the focus is, and where the step is open. */
function AddBelow({ step, name, onAdd, shown, lane }: AddBelowProps) {
  return (
    <Box
      className="below"
      sx={{
        position: "absolute",
        bottom: -12,
        left: "50%",
        zIndex: 3,
        bgcolor: "background.paper",
        borderRadius: 3,
        opacity: shown ? 1 : 0,
        pointerEvents: shown ? "auto" : "none",
        "*:hover > &, *:focus-within > &": { opacity: 1, pointerEvents: "auto" },
      }}
    >
      <AddMenu
        small
        label={`Add a step after ${name}`}
        options={OFFERED_STEPS}
        onAdd={(kind) => onAdd(kind, lane, step.id)}
      />
    </Box>
  );
}

interface AddBelowProps {
  step: Step;
  name: string;
  lane: string;
  shown: boolean;
  onAdd: AddStep;
}

/** A wait in its lane. It renders when something of its own has changed, as the other rows do. */
export const WaitRow = memo(function WaitRow(props: RowProps) {
  const { step, name, count, wrong, selected, rehearsed, readOnly, onSelect, ...add } = props;
  return (
    <SortableLine id={step.id} name={name ?? "the wait"} disabled={readOnly}>
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
          opacity: rehearsed === null ? 0.4 : 1,
          "&:hover": { bgcolor: "action.hover" },
          "&:focus-visible": { outline: 2, outlineColor: "primary.main" },
        }}
      >
        <Box
          component="span"
          sx={{ borderLeft: 2, borderColor: "divider", pl: 1, display: "block" }}
        >
          <Typography variant="caption" component="span">
            {name ?? "wait"}
            {count && count.waiting > 0 && ` · ${count.waiting} waiting`}
          </Typography>
          {wrong && (
            <Typography variant="caption" component="div" color={wrong.stops ? "error" : "warning"}>
              {wrong.stops ? "▲" : "△"} {wrong.sentence}
            </Typography>
          )}
        </Box>
      </Box>
      {!readOnly && <AddBelow {...add} step={step} name={name ?? "the wait"} shown={selected} />}
    </SortableLine>
  );
});

interface StepRowProps extends RowProps {
  lanes: LaneNames;
  heading: Schemas["Heading"] | undefined;
  /** How many came to the first step of the lane. */
  whole: number;
}

/** Any other step in its lane. */
export const StepRow = memo(function StepRow(props: StepRowProps) {
  const { name, readOnly, onSelect, lane, onAdd, ...card } = props;
  const { id } = card.step;
  return (
    <SortableLine id={id} name={name ?? "the step"} disabled={readOnly}>
      <Box sx={{ pl: readOnly ? 0 : 1.5 }}>
        <StepCard {...card} onOpen={() => onSelect({ kind: "step", id })} />
      </Box>
      {!readOnly && (
        <AddBelow
          step={card.step}
          name={name ?? "the step"}
          lane={lane}
          shown={card.selected}
          onAdd={onAdd}
        />
      )}
    </SortableLine>
  );
});
