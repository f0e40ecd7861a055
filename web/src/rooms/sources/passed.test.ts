import { describe, expect, it } from "vitest";
import { passed } from "./passed";

const after = (seconds: number) =>
  passed(
    "2026-11-24T09:00:00Z",
    new Date(Date.UTC(2026, 10, 24, 9) + seconds * 1000).toISOString(),
  );

describe("the time that passed", () => {
  it("is said in the unit that fits", () => {
    expect(after(0.42)).toBe("0.4 s");
    expect(after(42)).toBe("42 s");
    expect(after(300)).toBe("5 min");
    expect(after(10_800)).toBe("3 h");
  });

  it("is never less than nothing, where two clocks differ", () => {
    expect(after(-2)).toBe("no time");
  });
});
