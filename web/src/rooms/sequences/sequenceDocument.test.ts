import { expect, it } from "vitest";
import { token } from "../messages/liquid";
import { clockOf, type Step } from "./sequenceDocument";

const wait = (amount: number, unit: "minutes" | "hours" | "days" | "weeks"): Step => ({
  kind: "wait",
  id: `${amount}${unit}`,
  duration: { amount, unit },
});
const send: Step = { kind: "send", id: "s", message: null, at_once: false, if_held: "wait" };

it("writes the time since the door into the margin", () => {
  const steps = [
    send,
    wait(1, "days"),
    send,
    wait(2, "hours"),
    wait(5, "minutes"),
    send,
    wait(1, "weeks"),
    send,
  ];
  expect(clockOf(steps).filter((_, index) => steps[index]?.kind === "send")).toEqual([
    "at once",
    "+1 day",
    "+1 day 2 h 5 min",
    "+8 days 2 h 5 min",
  ]);
});

it("writes tokens of Liquid, with quotes that do not end early", () => {
  expect(token("first_name", "")).toBe("{{ first_name }}");
  expect(token("first_name", "there")).toBe('{{ first_name | default: "there" }}');
  expect(token("first_name", 'the "one" who\'s here')).toBe(
    "{{ first_name | default: 'the \"one\" who’s here' }}",
  );
});
