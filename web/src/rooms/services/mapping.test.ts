import { describe, expect, it } from "vitest";
import type { Schemas } from "../../api/client";
import { bare, fillingOf, fillings, fixedText, proposeLines } from "./mapping";

const far = (key: string, more: Partial<Schemas["FarField"]> = {}): Schemas["FarField"] => ({
  key,
  label: key,
  type: "text",
  required: false,
  choices: [],
  longest: null,
  group: "",
  ...more,
});
const field = (id: string, key: string, label: string, type = "text") =>
  ({
    id,
    key,
    label,
    type,
    choices: [],
    built_in: false,
  }) as unknown as Schemas["CatalogueOut"]["fields"][number];
const OURS = [field("1", "email", "Email", "email"), field("2", "first_name", "First name")];

describe("proposing lines", () => {
  it("takes fields of the same name, and the address", () => {
    const lines = proposeLines(
      [far("mail", { type: "email" }), far("FIRST-NAME"), far("shoe")],
      OURS,
      [],
    );
    expect(lines.map((one) => [one.to, one.what])).toEqual([
      ["mail", "1"],
      ["FIRST-NAME", "2"],
    ]);
  });
  it("leaves a place for what is required, but not for parts of an address", () => {
    const lines = proposeLines(
      [far("title", { required: true }), far("street", { required: true, group: "Address" })],
      OURS,
      [],
    );
    expect(lines.map((one) => [one.to, one.what])).toEqual([["title", ""]]);
  });
  it("keeps what is mapped", () => {
    const mapped = proposeLines([far("first_name")], OURS, []);
    expect(proposeLines([far("first_name")], OURS, mapped)).toEqual(mapped);
  });
});

describe("what a line is filled with", () => {
  it("is found among fields and answers, or is a text", () => {
    const all = fillings(OURS, [{ name: "q", label: "Question" }]);
    expect(all.map((one) => one.group)).toEqual(["Fields", "Fields", "Answers"]);
    const line = { id: "a", to: "x", take: "answer" as const, what: "q", fallback: "" };
    expect(fillingOf(line, all)?.label).toBe("Question");
    expect(fillingOf({ ...line, what: "gone" }, all)).toBeNull();
    expect(fillingOf({ ...line, take: "fixed", what: "prospect" }, all)).toEqual(
      fixedText("prospect"),
    );
  });
  it("compares names without accents and marks", () => {
    expect(bare("Prénom (first)")).toBe("prenomfirst");
  });
});
