import { describe, expect, it } from "vitest";
import { FIELD_TYPES } from "../fields/fieldTypes";
import { KINDS } from "./kinds";
import { fieldTypeFor, OFFERED_QUESTIONS, typedSample } from "./questions/registry";
import { emptyQuestion, inputsOf, seenSample, type Question } from "./routeDocument";

const types = OFFERED_QUESTIONS.map(([type]) => type);
const question = (type: Question["type"], change: Partial<Question> = {}): Question => ({
  ...emptyQuestion(type, false),
  name: "one",
  label: "One",
  choices: [
    { key: "moon", label: "Moon", synonyms: [] },
    { key: "planets", label: "Planets", synonyms: [] },
  ],
  value: "fair",
  ...change,
});

describe("questions of every type", () => {
  it("have a first answer for each of their boxes in a sample that is typed in", () => {
    for (const type of types) {
      const asked = question(type);
      const sample = typedSample([asked]);
      expect(sample.map((one) => one.name)).toEqual(inputsOf(asked).map((one) => one.name));
    }
    expect(typedSample([question("choice")])[0]?.text).toBe("moon");
    expect(typedSample([question("hidden")])[0]?.text).toBe("fair");
    expect(typedSample([question("name", { boxes: 2 })]).map((one) => one.text)).toEqual([
      "ines",
      "van der berg",
    ]);
  });

  it("make fields of a type that has its words", () => {
    for (const type of types) expect(FIELD_TYPES[fieldTypeFor(question(type))]).toBeTruthy();
    expect(fieldTypeFor(undefined)).toBe("text");
  });

  it("ask for an address at first, and never demand consent", () => {
    expect(emptyQuestion("email", true)).toMatchObject({ name: "email", required: true });
    expect(emptyQuestion("consent", false).required).toBe(false);
    expect(emptyQuestion("text", false)).toMatchObject({ name: "", required: false });
  });

  it("have ids of their own", () => {
    const ids = new Set(Array.from({ length: 50 }, () => emptyQuestion("text", false).id));
    expect(ids.size).toBe(50);
  });
});

it("calls each kind of source by a name of its own", () => {
  const names = Object.values(KINDS).map((one) => one.name);
  expect(new Set(names).size).toBe(names.length);
});

describe("a sample of what came", () => {
  it("has the most usual answer to each question, and none that is not known", () => {
    const seen = { share: 1, distinct: 2, field_type: "text" as const };
    expect(
      seenSample([
        { ...seen, name: "E-mail", values: ["ines@example.com", "bo@example.com"] },
        { ...seen, name: "Sky", values: [] },
      ]),
    ).toEqual([
      { name: "E-mail", text: "ines@example.com" },
      { name: "Sky", text: "" },
    ]);
    expect(seenSample(undefined)).toEqual([]);
  });
});
