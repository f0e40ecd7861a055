import Box from "@mui/material/Box";
import Typography from "@mui/material/Typography";
import { memo } from "react";
import type { Schemas } from "../../api/client";
import { SortableLine } from "../../parts/Sortable";
import type { Selection, Step } from "./sequenceDocument";
import { StepCard } from "./StepCard";
import type { LaneNames } from "./words";

interface RowProps {
  step: Step;
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
}

/** A wait in its lane. It renders when something of its own has changed, as the other rows do. */
export const WaitRow = memo(function WaitRow(props: RowProps) {
  const { step, name, count, wrong, selected, rehearsed, readOnly, onSelect } = props;
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
  const { name, readOnly, onSelect, ...card } = props;
  const { id } = card.step;
  return (
    <SortableLine id={id} name={name ?? "the step"} disabled={readOnly}>
      <Box sx={{ pl: readOnly ? 0 : 1.5 }}>
        <StepCard {...card} onOpen={() => onSelect({ kind: "step", id })} />
      </Box>
    </SortableLine>
  );
});
