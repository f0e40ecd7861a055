import type { Schemas } from "../../api/client";
import { newId } from "../../parts/newId";
import { ACTIONS, newAction, type Action } from "../sources/ruleActions";

export type SequenceDocument = Schemas["SequenceDocument"];
export type Lane = Schemas["Lane"];
export type Step = Lane["steps"][number];
export type Door = SequenceDocument["doors"][number];
export type Goal = Schemas["Goal"];
export type Way = Schemas["Way"];
export type Duration = Schemas["Duration"];
export type Again = NonNullable<SequenceDocument["again"]>;

/** What is open for editing beside the lanes: a part of the document, by its kind and id. */
export interface Selection {
  kind: "step" | "door" | "lane" | "goal" | "leaving" | "times" | "list" | "again";
  id: string;
}

export const ON: Way = { to: "on", lane: null, step: null };
export const END: Way = { to: "end", lane: null, step: null };

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
      "start_sequence",
      "stop_sequence",
    ] as const
  ).map((kind): [NewStep, string] => [kind, ACTIONS[kind]]),
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
      return { kind: "act", id, action: newAction(kind as Action["kind"], "") as StepAction };
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
    case "condition":
      return { kind, ...base, when: { kind: "all", of: [] } };
    case "date":
      return { kind, ...base, field: null, days: 0, at: "09:00:00", yearly: false };
    case "schedule":
      return { kind, ...base, weekdays: [1], at: "09:00:00", only: { kind: "all", of: [] } };
  }
}

export const AGAIN: Record<Again, string> = {
  once_only: "once only",
  start_over: "starts over",
  run_alongside: "runs alongside",
};

/** The name of a new lane: the next letter. */
export function nextLaneName(lanes: Lane[]): string {
  const used = new Set(lanes.map((one) => one.name[0]));
  return [..."ABCDEFGHIJKLMNOPQRSTUVWXYZ"].find((one) => !used.has(one)) ?? "New lane";
}

export function withLane(
  document: SequenceDocument,
  lane: string,
  change: (before: Lane) => Lane,
): SequenceDocument {
  return {
    ...document,
    lanes: document.lanes.map((one) => (one.id === lane ? change(one) : one)),
  };
}

/** The lane that holds a step, and where in it. */
export function placeOf(
  document: SequenceDocument,
  step: string,
): { lane: Lane; index: number } | undefined {
  for (const lane of document.lanes) {
    const index = lane.steps.findIndex((one) => one.id === step);
    if (index >= 0) return { lane, index };
  }
  return undefined;
}

/** A step changed where it stands. */
export function withStep(document: SequenceDocument, step: Step): SequenceDocument {
  const place = placeOf(document, step.id);
  if (!place) return document;
  return withLane(document, place.lane.id, (lane) => ({
    ...lane,
    steps: lane.steps.map((one) => (one.id === step.id ? step : one)),
  }));
}

/** A step put into a lane at an index; at its end where none is given. */
export function inserted(
  document: SequenceDocument,
  lane: string,
  step: Step,
  index?: number,
): SequenceDocument {
  return withLane(document, lane, (before) => {
    const at = index ?? before.steps.length;
    return { ...before, steps: [...before.steps.slice(0, at), step, ...before.steps.slice(at)] };
  });
}

export function withoutStep(document: SequenceDocument, step: string): SequenceDocument {
  return {
    ...document,
    lanes: document.lanes.map((lane) => ({
      ...lane,
      steps: lane.steps.filter((one) => one.id !== step),
    })),
  };
}

/** A step moved to where another stands, in its lane or another one. */
export function movedTo(document: SequenceDocument, step: string, to: string): SequenceDocument {
  const from = placeOf(document, step);
  const target = placeOf(document, to);
  const moving = from?.lane.steps[from.index];
  if (!from || !target || !moving || step === to) return document;
  const down = from.lane.id === target.lane.id && from.index < target.index;
  const rest = withoutStep(document, step);
  const place = placeOf(rest, to);
  if (!place) return document;
  return inserted(rest, place.lane.id, moving, place.index + (down ? 1 : 0));
}

/** Moved up or down by one within its lane. */
export function movedBy(document: SequenceDocument, step: string, by: -1 | 1): SequenceDocument {
  const place = placeOf(document, step);
  const other = place?.lane.steps[place.index + by];
  return other ? movedTo(document, step, other.id) : document;
}

/** A step with another id, and its branches too. */
export function copyOf(step: Step): Step {
  const id = newId("s");
  if (step.kind === "split")
    return { ...step, id, of: step.of.map((one) => ({ ...one, id: newId("b") })) };
  if (step.kind === "chance")
    return { ...step, id, of: step.of.map((one) => ({ ...one, id: newId("b") })) };
  return { ...step, id };
}

/** A step and all below it copied to the end of another lane; messages by `message`. */
export function copiedFrom(
  document: SequenceDocument,
  step: string,
  to: string,
  message: (id: string) => string = (id) => id,
): SequenceDocument {
  const place = placeOf(document, step);
  if (!place) return document;
  const copies = place.lane.steps.slice(place.index).map((one) => {
    const copy = copyOf(one);
    return copy.kind === "send" && copy.message
      ? { ...copy, message: message(copy.message) }
      : copy;
  });
  return withLane(document, to, (lane) => ({ ...lane, steps: [...lane.steps, ...copies] }));
}

/** Without a lane, and without the doors that lead to it. */
export function withoutLane(document: SequenceDocument, lane: string): SequenceDocument {
  return {
    ...document,
    lanes: document.lanes.filter((one) => one.id !== lane),
    doors: document.doors.filter((one) => one.lane !== lane),
  };
}

const SECONDS = { minutes: 60, hours: 3600, days: 86_400, weeks: 604_800 } as const;

/** A place on the clock: seconds since the door, and how many waits of no known length came first. */
export interface Moment {
  seconds: number;
  unknown: number;
}

export interface Segment {
  at: Moment;
  /** The waits that lead here, and what happens here. */
  waits: Step[];
  steps: Step[];
}

/** The steps of a lane by when they happen, as far as that is known. */
export function segmentsOf(lane: Lane): Segment[] {
  const found: Segment[] = [{ at: { seconds: 0, unknown: 0 }, waits: [], steps: [] }];
  for (const step of lane.steps) {
    let last = found[found.length - 1];
    if (!last) break;
    if (isWait(step)) {
      if (last.steps.length > 0) {
        last = { at: { ...last.at }, waits: [], steps: [] };
        found.push(last);
      }
      last.waits.push(step);
      if (step.kind === "wait") {
        last.at.seconds += step.duration.amount * SECONDS[step.duration.unit];
      } else last.at.unknown += 1;
    } else last.steps.push(step);
  }
  return found;
}

export function isWait(step: Step): boolean {
  return step.kind.startsWith("wait");
}

/** Lanes that people enter stand side by side; those that are only joined stand below. */
export function isJoined(document: SequenceDocument, lane: Lane): boolean {
  if (document.lanes[0]?.id === lane.id) return false;
  if (document.doors.some((one) => one.lane === lane.id)) return false;
  return document.lanes.some(
    (one) => one.id !== lane.id && one.then.to === "lane" && one.then.lane === lane.id,
  );
}

/** The rows of the clock that lanes side by side share, in order. */
export function rowsOf(lanes: Lane[]): Moment[] {
  const all = new Map<string, Moment>();
  for (const lane of lanes) for (const { at } of segmentsOf(lane)) all.set(keyOf(at), at);
  return [...all.values()].sort((a, b) => a.unknown - b.unknown || a.seconds - b.seconds);
}

export function keyOf(at: Moment): string {
  return `${at.unknown}/${at.seconds}`;
}

/** The time since the door in words: "at once", "+1 day", "+3 days 2 h". */
export function clockWords({ seconds, unknown }: Moment): string {
  if (seconds === 0) return unknown ? "later" : "at once";
  const days = Math.floor(seconds / 86_400);
  const hours = Math.floor((seconds % 86_400) / 3600);
  const minutes = Math.floor((seconds % 3600) / 60);
  const parts = [
    days && `${days} ${days === 1 ? "day" : "days"}`,
    hours && `${hours} h`,
    minutes && `${minutes} min`,
  ];
  const known = `+${parts.filter(Boolean).join(" ")}`;
  return unknown ? `${known} or later` : known;
}

/** Who went a way, in words: where it leads. */
export function wayWords(way: Way, document: SequenceDocument): string {
  if (way.to === "end") return "leaves";
  if (way.to === "on") return "continues";
  const lane = document.lanes.find((one) => one.id === way.lane);
  return lane ? `continues in ${lane.name}` : "leads to a lane that is gone";
}

export const ENDED: Record<string, string> = {
  finished: "finished",
  goal: "reached the goal",
  excluded: "left: excluded",
  no_longer_fits: "left: the door no longer fits",
  unsubscribed: "left: unsubscribed",
  not_on_list: "left: not on the list",
  suppressed: "left: suppressed",
  stopped: "left: a rule stopped it",
  started_over: "started over",
  taken_over: "left: another sequence took over",
  member: "left: taken out by a member",
  step_gone: "left: the step was removed",
};

/** Why people left at a step, in words. */
export function leftWords(left: Record<string, number>): string {
  return Object.entries(left)
    .map(([reason, count]) => `${count} ${(ENDED[reason] ?? reason).replace("left: ", "")}`)
    .join(", ");
}

/** A sentence of the server's with its first word as a heading: "send “Guide”" → Send, “Guide”. */
export function headed(said: string): { head: string; rest: string } {
  const [first = "", ...rest] = said.split(" ");
  const word = first.replace(/:$/, "");
  return { head: word.charAt(0).toUpperCase() + word.slice(1), rest: rest.join(" ") };
}
