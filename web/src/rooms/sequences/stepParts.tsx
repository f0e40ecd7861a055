import { number } from "../../parts/formats";
import type { ComponentType } from "react";
import Checkbox from "@mui/material/Checkbox";
import FormControlLabel from "@mui/material/FormControlLabel";
import { type Schemas } from "../../api/client";
import { type PanelContext } from "./panelParts";
import { type Selection, type Step } from "./sequenceDocument";

/** What everything beside the lanes is given of a step. */
export interface StepPanelProps extends PanelContext {
  step: Step;
  /** The id of the sequence. */
  own: string;
  selection: Selection;
  words: Record<string, string>;
  count: Schemas["StepCount"] | undefined;
  onSelect: (selection: Selection | undefined) => void;
  /** Shows who is at the step, or left there. */
  onPeople: ((filter: { step: string; ended?: string }) => void) | undefined;
}

/** A box to tick. */
export function Check(props: {
  label: string;
  checked: boolean;
  readOnly: boolean;
  onChange: (checked: boolean) => void;
}) {
  return (
    <FormControlLabel
      control={
        <Checkbox
          size="small"
          sx={{ py: 0.5 }}
          checked={props.checked}
          disabled={props.readOnly}
          onChange={(event) => props.onChange(event.target.checked)}
        />
      }
      label={props.label}
    />
  );
}

/** What the form of one kind of step is given. */
export type FormOf<Kind extends Step["kind"]> = Omit<StepPanelProps, "step"> & {
  step: Extract<Step, { kind: Kind }>;
  onChange: (step: Step) => void;
};

/** How many went a way, after its name. */
export function wentWords(count: Schemas["StepCount"] | undefined, way: string): string {
  const went = count?.ways[way];
  return went === undefined ? "" : ` · ${number(went)} went`;
}

/** A kind of step: what it is called, one with nothing chosen yet, and the form that fills it. */
export interface StepKind<Kind extends Step["kind"]> {
  words: string;
  /** `asked`: an act of the person leads straight to it. */
  make: (id: string, asked: boolean) => Extract<Step, { kind: Kind }>;
  Form: ComponentType<FormOf<Kind>>;
}
