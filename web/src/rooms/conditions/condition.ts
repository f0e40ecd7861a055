import type { Schemas } from "../../api/client";
import rules from "../../api/rules.json";
import type { FieldType } from "../fields/fieldTypes";

export type Group = Schemas["Group"];
export type Condition = NonNullable<Group["of"]>[number];
export type Leaf = Exclude<Condition, { kind: "all" | "any" | "none" }>;
export type Comparison = NonNullable<Schemas["FieldTest"]["op"]>;

export const OPS: Record<Comparison, string> = {
  is: "is",
  is_not: "is not",
  one_of: "is one of",
  contains: "contains",
  not_contains: "does not contain",
  begins: "begins with",
  less: "is less than",
  at_most: "is at most",
  more: "is more than",
  at_least: "is at least",
  before: "is before",
  after: "is after",
  in_last_days: "was in the last days",
  in_next_days: "is in the next days",
  empty: "is empty",
  not_empty: "is not empty",
};

/** The comparisons that a field of a type can be put to, as the core has them. */
export function comparisonsOf(type: FieldType): Comparison[] {
  return rules.comparisons[type] as Comparison[];
}

export const SUBJECTS: Record<Leaf["kind"], string> = {
  field: "a field",
  tag: "a tag",
  membership: "a list",
  answer: "an answer",
  source: "the source",
  score: "the score",
  happened: "something that happened",
  run: "a sequence",
  frozen: "a frozen group",
};

/** Nothing asked of what is said with an event. */
export const NO_DETAILS = { detail: "", detail_is: "", total_of: "", total_at_least: null };

/** A comparison of a kind, with nothing chosen yet. */
export function newLeaf(kind: Leaf["kind"]): Leaf {
  const text = { op: "is" as const, value: "", values: [], exact: false };
  switch (kind) {
    case "field":
      return { kind, field: "", ...text };
    case "answer":
      return { kind, question: "", ...text };
    case "tag":
      return { kind, tag: "", has: true };
    case "membership":
      return { kind, list: "", states: ["subscribed"], holds: true };
    case "source":
      return { kind, sources: [] };
    case "score":
      return { kind, op: "at_least", value: 1 };
    case "happened":
      return { kind, what: "submitted", about: "", link: "", ...NO_DETAILS, at_least: 1 };
    case "run":
      return { kind, sequence: "", state: "ever" };
    case "frozen":
      return { kind, group: "", within: true };
  }
}

export function isGroup(condition: Condition): condition is Group {
  return condition.kind === "all" || condition.kind === "any" || condition.kind === "none";
}

/** The date so many days from now in a zone, as ISO 8601. */
export function dayFrom(now: string | undefined, zone: string | undefined, days: number): string {
  const then = new Date((now ? Date.parse(now) : Date.now()) + days * 86_400_000);
  return new Intl.DateTimeFormat("en-CA", { timeZone: zone ?? "UTC" }).format(then);
}
