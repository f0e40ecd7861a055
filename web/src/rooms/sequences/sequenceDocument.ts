import type { Schemas } from "../../api/client";
import { newId } from "../../parts/newId";

export type SequenceDocument = Schemas["SequenceDocument"];
export type Lane = Schemas["Lane"];
export type Step = Lane["steps"][number];
export type Door = SequenceDocument["doors"][number];
export type Goal = Schemas["Goal"];
export type Way = Schemas["Way"];
export type Duration = Schemas["Duration"];
export type Again = NonNullable<SequenceDocument["again"]>;

/** What is open for editing beside the lanes: a part of the document, by its kind and id. */
/** The id, on the sheet, of what is selected: a setting has its kind. */
export const placeIn = (selection: Selection) => selection.id || selection.kind;

export interface Selection {
  kind: "step" | "door" | "lane" | "goal" | "leaving" | "times" | "list" | "again";
  id: string;
  /** Of a step that sends: whether its letter is open, wide over the sheet. */
  wide?: boolean;
}

export const ON: Way = { to: "on", lane: null, step: null };
export const END: Way = { to: "end", lane: null, step: null };

export const AGAIN: Record<Again, string> = {
  once_only: "once only",
  start_over: "starts over",
  run_alongside: "runs alongside",
};

/** The name of a new lane: the next letter. */
export function nextLaneName(lanes: Lane[]): string {
  const used = new Set(lanes.map((one) => one.name[0]));
  return Array.from("ABCDEFGHIJKLMNOPQRSTUVWXYZ").find((one) => !used.has(one)) ?? "New lane";
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

/** A new step put into a lane after another one, or at its top; what makes it is told whether people have
 * asked for it. */
export function stepAdded(
  document: SequenceDocument,
  lane: string,
  after: string | undefined,
  make: (asked: boolean) => Step,
): SequenceDocument {
  const found = document.lanes.find((one) => one.id === lane);
  if (!found) return document;
  const index = found.steps.findIndex((one) => one.id === after) + 1;
  return inserted(document, lane, make(isAskedFirst(document, found)), index);
}

/** A step that sends, with another message. */
export function withMessage(
  document: SequenceDocument,
  step: string,
  message: string,
): SequenceDocument {
  const place = placeOf(document, step);
  const now = place?.lane.steps[place.index];
  return now?.kind === "send" ? withStep(document, { ...now, message }) : document;
}

/** What adds an email after another one, with its options, and a wait before it as long as the wait before
 * that: the id of the new step, and the change. Nobody has asked for this one. */
export function emailAdded(
  after: Extract<Step, { kind: "send" }>,
  message: string,
): [string, (document: SequenceDocument) => SequenceDocument] {
  const [wait, send] = [newId("s"), newId("s")];
  const change = (document: SequenceDocument) => {
    const place = placeOf(document, after.id);
    if (!place) return document;
    const before = place.lane.steps.slice(0, place.index).findLast((one) => one.kind === "wait");
    const duration = before?.duration ?? { amount: 1, unit: "days" as const };
    const email: Step = { ...after, id: send, message, at_once: false };
    const { id } = place.lane;
    const waited = inserted(document, id, { kind: "wait", id: wait, duration }, place.index + 1);
    return inserted(waited, id, email, place.index + 2);
  };
  return [send, change];
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

/** Lanes that people enter stand side by side; those that are only joined stand below. */
export function isJoined(document: SequenceDocument, lane: Lane): boolean {
  if (document.lanes[0]?.id === lane.id) return false;
  if (document.doors.some((one) => one.lane === lane.id)) return false;
  return joining(document, lane).length > 0;
}

/** The other lanes that lead into a lane, at their end or by a branch of a step. */
export function joining(document: SequenceDocument, lane: Lane): Lane[] {
  return document.lanes.filter(
    (one) =>
      one.id !== lane.id &&
      [one.then, ...one.steps.flatMap(waysOf)].some(
        (way) => way.to === "lane" && way.lane === lane.id,
      ),
  );
}

/** The ways out of a step that has several. */
export function waysOf(step: Step): Way[] {
  switch (step.kind) {
    case "split":
      return [...step.of.map((one) => one.way), step.otherwise];
    case "chance":
      return step.of.map((one) => one.way);
    case "wait_condition":
      return [step.held, step.otherwise];
    case "wait_date":
      return [step.otherwise];
    default:
      return [];
  }
}

/** Doors that an act of somebody's own can open: a form, a confirmation, a click, an event. */
const ASKED = ["route", "list", "click", "event"];

/** Whether a new step at the end of a lane is the first thing behind an act of somebody's own. Lanes that are
 * joined are not: whoever comes from another lane has asked for nothing just now. */
export function isAskedFirst(document: SequenceDocument, lane: Lane): boolean {
  const first = document.lanes[0]?.id;
  const doors = document.doors.filter((one) => (one.lane ?? first) === lane.id);
  const entered = doors.length ? doors.some((one) => ASKED.includes(one.kind)) : lane.id === first;
  return lane.steps.length === 0 && entered && !isJoined(document, lane);
}
