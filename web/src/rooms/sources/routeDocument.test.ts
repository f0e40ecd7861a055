import { describe, expect, it } from "vitest";
import { fieldTypeFor } from "./questions/registry";
import {
  emptyLine,
  emptyQuestion,
  freeName,
  inputName,
  linesFor,
  moved,
  renameQuestion,
  type Field,
  type Question,
  type RouteDocument,
} from "./routeDocument";

const question = (change: Partial<Question>): Question => ({
  ...emptyQuestion("name", false),
  name: "first_name",
  label: "First name",
  ...change,
});

const fields = (["email", "first_name", "last_name", "interest"] as const).map((key): Field => ({
  id: `id-${key}`,
  key,
  label: key,
  type: "text",
  choices: [],
  built_in: false,
  version: "",
}));

describe("a route's document", () => {
  it("names an input after what it asks", () => {
    expect(inputName("What do you look at?")).toBe("what_do_you_look_at");
    expect(inputName("  Prénom ")).toBe("prenom");
    expect(inputName("???")).toBe("");
  });

  it("follows a renamed question everywhere", () => {
    const sees = { kind: "text", heading: "", text: "", address: "" } as const;
    const route: RouteDocument = {
      form: {
        title: "",
        intro: "",
        button: "",
        language: "",
        questions: [question({ name: "sky", type: "address" })],
        picture_says: "",
        words: {},
        pop_up: { opens: "seconds", after: 8, button: "", not_again: 30 },
        shared_screen: false,
      },
      read_as: [{ ...emptyLine("sky"), also: ["sky.city"] }, emptyLine("skyline")],
      consent: [{ id: "c", list: null, question: "sky", wording: "", confirm: false }],
      then: [
        {
          id: "t",
          on: true,
          when: {
            kind: "all",
            of: [
              { kind: "answer", question: "sky", op: "is", value: "x", values: [], exact: false },
            ],
          },
          action: { kind: "tag_by_answer", question: "sky", table: [] },
        },
      ],
      operation: "add_or_update",
      old_address: "",
      visitor_sees: { ...sees, passing: [{ question: "sky", parameter: "x" }] },
      own_form: { errors_to: "", sites: [] },
    };
    const after = renameQuestion(route, route.form.questions[0]?.id ?? "", "place");
    expect(JSON.stringify(after)).not.toContain('"sky"');
    expect(after.read_as[0]?.also).toEqual(["place.city"]);
    expect(after.read_as[1]?.question).toBe("skyline");
  });

  it("renames one question by its id, whatever another one is called", () => {
    const email = question({ id: "q1", name: "email", type: "email", label: "Email" });
    const made = question({ id: "q2", name: "email", type: "text", label: "Email or phone" });
    const empty = { ...made, id: "q3", name: "" };
    const base = {
      form: { questions: [email, made, empty] },
      read_as: [emptyLine("email")],
      consent: [],
      then: [],
      old_address: "",
      visitor_sees: { passing: [] },
    } as unknown as RouteDocument;
    for (const [id, name] of [
      ["q2", "email_or_phone"],
      ["q3", "other"],
    ] as const) {
      const after = renameQuestion(base, id, name);
      expect(after.form.questions[0]).toEqual(email);
      expect(after.form.questions.find((one) => one.id === id)?.name).toBe(name);
      expect(after.read_as[0]?.question).toBe("email");
    }
    expect(freeName(base, "q3", "email")).toBe("email_2");
    expect(freeName(base, "q3", "phone")).toBe("phone");
  });

  it("reads an address by its parts, each a box of its own", () => {
    const lines = linesFor(question({ name: "school", type: "address" }), fields);
    expect(lines.map((one) => one.question)).toContain("school.postal_code");
    expect(lines).toHaveLength(5);
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
