import { sendStep } from "./send";
import { waitStep } from "./wait";
import { waitTimeStep } from "./waitTime";
import { waitDateStep } from "./waitDate";
import { waitConditionStep } from "./waitCondition";
import { splitStep } from "./split";
import { chanceStep } from "./chance";
import { stopStep } from "./stop";
import type { Schemas } from "../../../api/client";
import { newId } from "../../../parts/newId";
import { ACTIONS, newAction } from "../../actions/registry";
import type { Step } from "../sequenceDocument";
import type { StepKind } from "../stepParts";

type OwnKind = Exclude<Step["kind"], "act">;
type StepAction = Schemas["ActStep"]["action"];

/** The kinds of step that are no action of a rule. One more is one more file. */
export const STEPS: { [Kind in OwnKind]: StepKind<Kind> } = {
  send: sendStep,
  wait: waitStep,
  wait_time: waitTimeStep,
  wait_date: waitDateStep,
  wait_condition: waitConditionStep,
  split: splitStep,
  chance: chanceStep,
  stop: stopStep,
};

/** The actions that a step can be, in the order in which they are offered. */
const ACTS = [
  "add_tags",
  "remove_tags",
  "put_field",
  "change_score",
  "change_subscription",
  "record_event",
  "make_task",
  "notify",
  "set_owner",
  "hand_over",
  "start_sequence",
  "stop_sequence",
] as const satisfies StepAction["kind"][];

export type NewStep = OwnKind | StepAction["kind"];

const own = (kind: OwnKind): [NewStep, string] => [kind, STEPS[kind].words];
const { stop, ...others } = STEPS;

/** What can be added to a lane, in the order in which it is offered. */
export const OFFERED_STEPS: [NewStep, string][] = [
  ...(Object.keys(others) as OwnKind[]).map(own),
  ...ACTS.map((kind): [NewStep, string] => [kind, ACTIONS[kind].words]),
  ["stop", stop.words],
];

/** A step of a kind, with nothing chosen yet; `asked`: an act of the person leads straight to it. */
export function newStep(kind: NewStep, asked: boolean): Step {
  const id = newId("s");
  if (kind in STEPS) return STEPS[kind as OwnKind].make(id, asked);
  return { kind: "act", id, action: newAction(kind as StepAction["kind"], "") as StepAction };
}
