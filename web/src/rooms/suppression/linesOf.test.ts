import { describe, expect, it } from "vitest";
import { linesOf } from "./linesOf";

describe("lines for the suppression list", () => {
  it("are the first cells, without quotes and what follows", () => {
    expect(
      linesOf('ines@example.com\r\n"@example.org",asked,2026-11-24\nbo@example.com;x'),
    ).toEqual(["ines@example.com", "@example.org", "bo@example.com"]);
  });

  it("take back what our own export wrote, with its mark and heading", () => {
    expect(linesOf("\uFEFFaddress or domain,reason\nines@example.com,asked")).toEqual([
      "",
      "ines@example.com",
    ]);
  });

  it("keep their places, so that a problem names the line that is seen", () => {
    const lines = linesOf("a@b.example\n\n   \nnonsense\n");
    expect(lines).toEqual(["a@b.example", "", "", "nonsense", ""]);
    expect(lines.filter(Boolean)).toHaveLength(2);
  });
});
