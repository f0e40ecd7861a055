import { expect, it } from "vitest";
import { token } from "../messages/liquid";
import { clockWords, rowsOf, segmentsOf } from "./clock";
import {
  END,
  copiedFrom,
  isJoined,
  movedBy,
  movedTo,
  type Lane,
  type SequenceDocument,
  type Step,
} from "./sequenceDocument";

const wait = (amount: number, unit: "minutes" | "hours" | "days" | "weeks"): Step => ({
  kind: "wait",
  id: `${amount}${unit}`,
  duration: { amount, unit },
});
const send = (id: string): Step => ({
  kind: "send",
  id,
  message: "m",
  at_once: false,
  any_hour: false,
  if_held: "wait",
});
const lane = (id: string, steps: Step[], then = END): Lane => ({ id, name: id, steps, then });
const made = (...lanes: Lane[]): SequenceDocument => ({
  list: null,
  doors: [],
  again: null,
  lanes,
  goals: [],
  leaving: { when: null, takes_over: "none", these: [] },
  times: null,
  no_broadcasts: false,
  priority: 0,
  sender: { name: "", address: "", reply_to: "" },
});
const ids = (document: SequenceDocument) =>
  document.lanes.map((one) => one.steps.map((step) => step.id).join(" "));

it("writes the time since the door into the margin", () => {
  const steps = [
    send("a"),
    wait(1, "days"),
    send("b"),
    wait(2, "hours"),
    wait(5, "minutes"),
    send("c"),
    wait(1, "weeks"),
    send("d"),
  ];
  expect(segmentsOf(lane("a", steps)).map((one) => clockWords(one.at))).toEqual([
    "at once",
    "+1 day",
    "+1 day 2 h 5 min",
    "+8 days 2 h 5 min",
  ]);
});

it("says of what waits for a weekday that it comes later", () => {
  const until: Step = { kind: "wait_time", id: "t", weekdays: [2], at: "10:00:00" };
  const found = segmentsOf(lane("a", [send("a"), until, send("b"), wait(2, "days"), send("c")]));
  expect(found.map((one) => clockWords(one.at))).toEqual(["at once", "later", "+2 days or later"]);
});

it("lets lanes share the rows of one clock", () => {
  const first = lane("a", [send("a"), wait(1, "days"), send("b")]);
  const second = lane("b", [wait(2, "days"), send("c")]);
  expect(rowsOf([first, second]).map(clockWords)).toEqual(["at once", "+1 day", "+2 days"]);
});

it("moves a step up, down and into another lane", () => {
  const document = made(lane("a", [send("1"), send("2"), send("3")]), lane("b", [send("4")]));
  expect(ids(movedBy(document, "1", 1))).toEqual(["2 1 3", "4"]);
  expect(ids(movedBy(document, "3", -1))).toEqual(["1 3 2", "4"]);
  expect(ids(movedBy(document, "3", 1))).toEqual(["1 2 3", "4"]);
  expect(ids(movedTo(document, "1", "3"))).toEqual(["2 3 1", "4"]);
  expect(ids(movedTo(document, "2", "4"))).toEqual(["1 3", "2 4"]);
});

it("copies a step and all below it into another lane, under ids of their own", () => {
  const document = made(lane("a", [send("1"), send("2")]), lane("b", [send("4")]));
  const copied = copiedFrom(document, "1", "b", (id) => `${id}-copy`).lanes[1]?.steps ?? [];
  expect(copied).toHaveLength(3);
  expect(copied.slice(1).every((one) => one.kind === "send" && one.message === "m-copy")).toBe(
    true,
  );
  expect(new Set(copied.map((one) => one.id)).size).toBe(3);
});

it("puts a lane that is only joined below the others", () => {
  const joins = { to: "lane" as const, lane: "d", step: null };
  const document = made(lane("a", [], joins), lane("b", [], joins), lane("d", []));
  expect(document.lanes.map((one) => isJoined(document, one))).toEqual([false, false, true]);
});

it("writes tokens of Liquid, with quotes that do not end early", () => {
  expect(token("first_name", "")).toBe("{{ first_name }}");
  expect(token("first_name", "there")).toBe('{{ first_name | default: "there" }}');
  expect(token("first_name", 'the "one" who\'s here')).toBe(
    "{{ first_name | default: 'the \"one\" who’s here' }}",
  );
});
