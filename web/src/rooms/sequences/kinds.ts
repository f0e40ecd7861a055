import type { Schemas } from "../../api/client";
import { newId } from "../../parts/newId";
import { ACTIONS, newAction } from "../actions/registry";
import { END, ON, type Door, type Step } from "./sequenceDocument";

export type NewStep =
  Exclude<Step["kind"], "act"> | Exclude<Schemas["ActStep"]["action"]["kind"], "never">;

/** What can be added to a lane, in the order in which it is offered. */
export const STEPS: [NewStep, string][] = [
  ["send", "Send an email"],
  ["wait", "Wait for some time"],
  ["wait_time", "Wait until a weekday and time"],
  ["wait_date", "Wait until a date of theirs"],
  ["wait_condition", "Wait until a condition holds"],
  ["split", "Split by conditions"],
  ["chance", "Split by chance"],
  ...(
    [
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
    ] as const
  ).map((kind): [NewStep, string] => [kind, ACTIONS[kind].words]),
  ["stop", "Stop here"],
];

/** A step of a kind, with nothing chosen yet; `first`: nothing stands before it in its lane. */
export function newStep(kind: NewStep, first: boolean): Step {
  const id = newId("s");
  switch (kind) {
    case "send":
      return { kind, id, message: null, at_once: first, any_hour: false, if_held: "wait" };
    case "wait":
      return { kind, id, duration: { amount: 1, unit: "days" } };
    case "wait_time":
      return { kind, id, weekdays: [2], at: "09:00:00" };
    case "wait_date":
      return { kind, id, field: null, days: 0, at: "09:00:00", yearly: false, otherwise: ON };
    case "wait_condition":
      return {
        kind,
        id,
        when: { kind: "all", of: [] },
        at_most: { amount: 7, unit: "days" },
        held: ON,
        otherwise: ON,
      };
    case "split":
      return { kind, id, of: [newBranch()], otherwise: ON };
    case "chance":
      return {
        kind,
        id,
        of: [
          { id: newId("b"), name: "A", weight: 1, way: ON },
          { id: newId("b"), name: "B", weight: 1, way: ON },
        ],
      };
    case "stop":
      return { kind, id };
    default:
      return { kind: "act", id, action: newAction(kind, "") as StepAction };
  }
}

type StepAction = Schemas["ActStep"]["action"];

export function newBranch(): Schemas["SplitBranch"] {
  return { id: newId("b"), name: "", when: { kind: "all", of: [] }, way: END };
}

/** What opens a door, in the order in which it is offered. */
export const DOORS: [Door["kind"], string][] = [
  ["route", "A route’s rule"],
  ["tag", "A tag is added"],
  ["list", "Somebody joins a list"],
  ["field", "A field changes"],
  ["event", "An event happens"],
  ["click", "A link is clicked"],
  ["condition", "A condition becomes true"],
  ["date", "Before or after a date of theirs"],
  ["schedule", "At a time on some weekdays"],
  ["by_hand", "A member adds them"],
];

export function newDoor(kind: Door["kind"], lane: string): Door {
  const base = { id: newId("d"), lane, open: true, only: null, stays: true, again: null };
  switch (kind) {
    case "route":
    case "by_hand":
      return { kind, ...base };
    case "tag":
      return { kind, ...base, tag: null };
    case "list":
      return { kind, ...base, list: null };
    case "field":
      return { kind, ...base, field: null, value: "" };
    case "event":
      return { kind, ...base, name: "" };
    case "click":
      return { kind, ...base, message: null, link: "" };
    case "condition":
      return { kind, ...base, when: { kind: "all", of: [] } };
    case "date":
      return { kind, ...base, field: null, days: 0, at: "09:00:00", yearly: false };
    case "schedule":
      return { kind, ...base, weekdays: [1], at: "09:00:00", only: { kind: "all", of: [] } };
  }
}
