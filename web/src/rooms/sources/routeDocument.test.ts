import { describe, expect, it } from "vitest";
import {
  fieldTypeFor,
  inputName,
  linesFor,
  moved,
  renameQuestion,
  type Field,
  type Question,
  type RouteDocument,
} from "./routeDocument";

const question = (change: Partial<Question>): Question => ({
  id: "q",
  name: "first_name",
  type: "name",
  label: "First name",
  help: "",
  required: false,
  choices: [],
  value: "",
  parameter: "",
  ...change,
});

const fields = (["email", "first_name", "last_name", "interest"] as const).map((key): Field => ({
  id: `id-${key}`,
  key,
  label: key,
  type: "text",
  choices: [],
  built_in: false,
}));

describe("a route's document", () => {
  it("names an input after what it asks", () => {
    expect(inputName("What do you look at?")).toBe("what_do_you_look_at");
    expect(inputName("  Prénom ")).toBe("prenom");
    expect(inputName("???")).toBe("");
  });

  it("follows a renamed question everywhere", () => {
    const route: RouteDocument = {
      form: { title: "", intro: "", button: "", questions: [question({ name: "look" })] },
      read_as: [
        {
          id: "r",
          question: "look",
          field: "f",
          part: "whole",
          case_right: false,
          overwrite: "always",
          fallback: "",
        },
      ],
      consent: [{ id: "c", list: null, question: "look", wording: "" }],
      then: [{ id: "t", on: true, action: { kind: "tag_by_answer", question: "look", table: [] } }],
      visitor_sees: {
        kind: "text",
        heading: "",
        text: "",
        address: "",
        passing: [{ question: "look", parameter: "x" }],
      },
    };
    expect(JSON.stringify(renameQuestion(route, "look", "interest"))).not.toContain("look");
  });

  it("splits a full name, and keeps a first name whole", () => {
    expect(linesFor(question({}), fields).map((one) => one.field)).toEqual(["id-first_name"]);
    const full = linesFor(question({ label: "Your name" }), fields);
    expect(full.map((one) => [one.field, one.part])).toEqual([
      ["id-first_name", "first"],
      ["id-last_name", "last"],
    ]);
  });

  it("leaves a line without a field where none fits", () => {
    const [line] = linesFor(question({ type: "choice", label: "Sky", name: "sky" }), fields);
    expect(line?.field).toBeNull();
    expect(fieldTypeFor(question({ type: "choice" }))).toBe("choice");
  });

  it("moves an item, and not over the edge", () => {
    expect(moved(["a", "b", "c"], 0, 1)).toEqual(["b", "a", "c"]);
    expect(moved(["a", "b"], 0, -1)).toEqual(["a", "b"]);
    expect(moved(["a", "b"], 1, 1)).toEqual(["a", "b"]);
  });
});
