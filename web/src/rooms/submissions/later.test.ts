import { describe, expect, it } from "vitest";
import { later } from "./later";

const after = (seconds: number) =>
  later("2026-11-24T09:00:00Z", new Date(Date.UTC(2026, 10, 24, 9) + seconds * 1000).toISOString());

describe("how much later", () => {
  it("is said in the unit that fits", () => {
    expect(after(0.42)).toBe("0.4 s later");
    expect(after(42)).toBe("42 s later");
    expect(after(300)).toBe("5 min later");
    expect(after(10_800)).toBe("3 h later");
  });

  it("is at once where nothing can be measured, or two clocks differ", () => {
    expect(after(0.01)).toBe("at once");
    expect(after(-2)).toBe("at once");
  });
});
