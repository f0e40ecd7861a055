import { act, cleanup } from "@testing-library/react";
import { afterEach, expect, test } from "vitest";
import { changedParts, shownText, operateAll } from "../../testing/controls";
import { show } from "../../testing/show";
import type { Schemas } from "../../api/client";
import { ConditionLine } from "./ConditionLine";
import { OPS, type Comparison, type Leaf } from "./condition";

afterEach(cleanup);

const named = (id: string) => ({ id, name: `Named ${id}` });
const FIELDS: [string, Schemas["FieldIn"]["type"]][] = [
  ["text", "text"],
  ["number", "number"],
  ["date", "date"],
  ["choice", "choice"],
  ["choices", "choices"],
  ["country", "country"],
  ["yes", "yes_no"],
];
const catalogue = {
  fields: FIELDS.map(([id, type]) => ({
    id,
    key: id,
    label: `Field ${id}`,
    type,
    choices: id.startsWith("choice") ? [{ key: "moon", label: "The moon" }] : [],
  })),
  tags: [named("t1"), named("t2")],
  lists: [named("l1"), named("l2")],
  sources: [named("s1"), named("s2"), named("s3")],
  messages: [named("m1")],
  sequences: [named("q1")],
  groups: [named("g1")],
} as unknown as Schemas["CatalogueOut"];

const happened: Extract<Leaf, { kind: "happened" }> = {
  kind: "happened",
  what: "event",
  about: "paid",
  link: "",
  detail: "product",
  detail_is: "Lens",
  total_of: "amount",
  total_at_least: "20",
  at_least: 1,
  at_most: null,
  within_hours: null,
  before: null,
  after: null,
};
const text = { value: "Moon", values: ["moon", "dome"], exact: true };

/** Every value that a comparison can hold, each with what has to stand on the screen. */
const LEAVES: [Leaf, string[]][] = [
  ...FIELDS.map(([id, type]): [Leaf, string[]] => [
    { kind: "field", field: id, op: "is", ...text, ...VALUE(type) },
    [`Field ${id}`],
  ]),
  ...(Object.keys(OPS) as Comparison[]).map((op): [Leaf, string[]] => [
    { kind: "field", field: "text", op, ...text },
    [OPS[op]],
  ]),
  ...(["is", "one_of", "begins", "empty"] as const).map((op): [Leaf, string[]] => [
    { kind: "answer", question: "what", op, ...text },
    [OPS[op]],
  ]),
  [{ kind: "field", field: "choice", op: "is", ...text, value: "gone" }, ["gone (no longer"]],
  [{ kind: "tag", tag: "t2", has: false }, ["does not have the tag", "Named t2"]],
  [
    { kind: "membership", list: "l2", states: ["pending", "bounced"], holds: false },
    ["is not", "pending or bounced", "Named l2"],
  ],
  [{ kind: "source", sources: ["s1", "s3"] }, ["Named s1 or Named s3"]],
  [{ kind: "source", sources: ["s1", "elsewhere"] }, ["Named s1 or one that is gone"]],
  [{ kind: "score", op: "at_most", value: 7 }, ["is at most", "7"]],
  [happened, ["paid", "product", "Lens", "amount", "20", "at least"]],
  [{ ...happened, at_least: 0, at_most: 0 }, ["never"]],
  [{ ...happened, at_least: 0, at_most: 4 }, ["at most", "4"]],
  [{ ...happened, at_least: 2, at_most: 4 }, ["between", "2", "4"]],
  [{ ...happened, within_hours: 36 }, ["hours", "36"]],
  [{ ...happened, within_hours: 72 }, ["days", "3"]],
  [
    { ...happened, within_hours: 72, after: "2026-01-02", before: "2026-03-04" },
    ["02 Jan 2026", "04 Mar 2026"],
  ],
  [{ ...happened, after: "2026-01-02", before: "2026-03-04" }, ["02 Jan 2026", "04 Mar 2026"]],
  [{ ...happened, before: "2026-03-04" }, ["before", "04 Mar 2026"]],
  [{ ...happened, what: "clicked", about: "m1", link: "/shop" }, ["/shop", "Named m1"]],
  [{ ...happened, what: "submitted", about: "s2" }, ["Named s2"]],
  [{ ...happened, what: "confirmed", about: "l1" }, ["Named l1"]],
  [{ kind: "run", sequence: "q1", state: "never" }, ["was never in", "Named q1"]],
  [{ kind: "frozen", group: "g1", within: false }, ["is not in the group", "Named g1"]],
];

function VALUE(type: string): Partial<typeof text> {
  const values: Record<string, string> = {
    number: "3",
    date: "2026-05-06",
    choice: "moon",
    country: "AT",
    yes_no: "yes",
  };
  return type in values ? { value: values[type] ?? "" } : {};
}

/** What may change along with the parts of a comparison that a control is about. */
const TOGETHER: string[][] = [
  ["field", "op", "value", "values"],
  ["what", "about", "link", "detail", "detail_is", "total_of", "total_at_least"],
  ["at_least", "at_most"],
  ["within_hours", "after", "before"],
];

async function open(leaf: Leaf) {
  const made: Leaf[] = [];
  show(
    <ConditionLine
      leaf={leaf}
      catalogue={catalogue}
      asked={[]}
      readOnly={false}
      onChange={(next) => made.push(next)}
      onRemove={() => undefined}
    />,
  );
  // Boxes for dates are loaded when one is shown.
  await act(() => import("../../parts/dates/pickers"));
  return made;
}

test.each(LEAVES.map(([leaf, words]) => [JSON.stringify(leaf), leaf, words] as const))(
  "all of it is shown: %s",
  async (_name, leaf, words) => {
    await open(leaf);
    for (const one of words) expect(shownText()).toContain(one);
  },
);

let changes = 0;

test.each(LEAVES.map(([leaf]) => [JSON.stringify(leaf), leaf] as const))(
  "a control changes what it is about, and nothing else: %s",
  async (_name, leaf) => {
    // What is shown stays as it is: the leaf is not replaced by what is made of it.
    const made = await open(leaf);
    operateAll();
    changes += made.length;
    for (const next of made) {
      const keys = changedParts(leaf, next);
      const together =
        keys.length <= 1 || TOGETHER.some((all) => keys.every((one) => all.includes(one)));
      expect(together, JSON.stringify(next)).toBe(true);
      if (leaf.kind === "membership" && next.kind === "membership" && keys[0] === "states") {
        expect(next.states).toEqual(expect.arrayContaining(leaf.states));
      }
      if (leaf.kind === "source" && next.kind === "source") {
        expect(next.sources).toEqual(expect.arrayContaining(leaf.sources));
      }
    }
  },
);

test("the controls were really used", () => {
  expect(changes).toBeGreaterThan(80);
});
