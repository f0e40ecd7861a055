import { describe, expect, it } from "vitest";
import { comparisonsOf, isGroup, newLeaf, OPS, SUBJECTS, type Leaf } from "./condition";

const kinds = Object.keys(SUBJECTS) as Leaf["kind"][];

describe("a condition", () => {
  it("starts a comparison of each kind with nothing chosen", () => {
    for (const kind of kinds) {
      const leaf = newLeaf(kind);
      expect(leaf.kind).toBe(kind);
      expect(isGroup(leaf)).toBe(false);
    }
    expect(newLeaf("membership")).toMatchObject({ states: ["subscribed"], holds: true });
  });

  it("offers every type whether it is empty, and says each comparison in words", () => {
    for (const type of ["text", "number", "date", "choices", "yes_no", "phone"] as const) {
      const offered = comparisonsOf(type);
      expect(offered.slice(-2)).toEqual(["empty", "not_empty"]);
      for (const op of offered) expect(OPS[op]).not.toBe("");
      expect(new Set(offered).size).toBe(offered.length);
    }
  });

  it("compares by size only what has a size", () => {
    expect(comparisonsOf("number")).toContain("at_least");
    expect(comparisonsOf("text")).not.toContain("at_least");
    expect(comparisonsOf("choice")).not.toContain("contains");
    expect(comparisonsOf("choices")).not.toContain("is");
    expect(comparisonsOf("date")).toContain("in_last_days");
  });

  it("knows a group from a comparison", () => {
    for (const kind of ["all", "any", "none"] as const)
      expect(isGroup({ kind, of: [] })).toBe(true);
  });
});
