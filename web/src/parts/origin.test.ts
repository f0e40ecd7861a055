import { expect, test } from "vitest";
import { byOrigin, origin, readsSame } from "./origin";

const rule = (line_id: string) => ({ sentence: `rule ${line_id}`, line_id, submission_id: "s" });
const hand = { sentence: "Noor changed it" };

test("neighbours of one origin stand together, and only neighbours", () => {
  const things = [
    { name: "a", because: rule("1") },
    { name: "b", because: rule("2") },
    { name: "c", because: hand },
    { name: "d", because: rule("3") },
    { name: "e", because: null },
    { name: "f", because: null },
  ];
  const names = byOrigin(things).map((group) => group.map((one) => one.name).join(""));
  expect(names).toEqual(["ab", "c", "d", "ef"]);
});

test("what else has to be alike parts them", () => {
  const things = [1, 1, 2].map((at) => ({ at, because: hand }));
  const sizes = byOrigin(things, (one, other) => one.at === other.at).map((one) => one.length);
  expect(sizes).toEqual([2, 1]);
  expect(byOrigin([])).toEqual([]);
});

test("an origin has no line, and a cause reads as its sentence and origin say", () => {
  expect(origin(rule("1"))).toEqual({ submission_id: "s" });
  expect(readsSame(rule("1"), { ...rule("1"), line_id: "9", band: "then" })).toBe(true);
  // The server writes its keys in any order, and what is not said as null.
  const other = { submission_id: "s", replay_id: null, line_id: "1", sentence: "rule 1" };
  expect(readsSame(rule("1"), other)).toBe(true);
  expect(readsSame(rule("1"), rule("2"))).toBe(false);
  expect(readsSame(rule("1"), null)).toBe(false);
});
