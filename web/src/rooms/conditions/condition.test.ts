import { describe, expect, it } from "vitest";
import { dayFrom, comparisonsOf, isGroup, newLeaf, OPS, SUBJECTS, type Leaf } from "./condition";

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

describe("a day", () => {
  it("is one of the workspace's zone, whatever the browser's is", () => {
    const now = "2026-11-25T23:30:00Z";
    expect(dayFrom(now, "Asia/Tokyo", 0)).toBe("2026-11-26");
    expect(dayFrom(now, "America/Denver", 0)).toBe("2026-11-25");
    expect(dayFrom(now, "Asia/Tokyo", -30)).toBe("2026-10-27");
    expect(dayFrom(now, undefined, 1)).toBe("2026-11-26");
  });
});
