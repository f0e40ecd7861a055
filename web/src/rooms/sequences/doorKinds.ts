import { newId } from "../../parts/newId";
import type { Door } from "./sequenceDocument";

/** What opens a door, in the order in which it is offered. */
export const DOORS: [Door["kind"], string][] = [
  ["route", "How forms and other sources lead in"],
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
