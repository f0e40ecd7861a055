import { describe, expect, it } from "vitest";
import type { Question, Rule } from "./routeDocument";
import { ACTIONS, newAction, tagNameFor, type Action } from "./ruleActions";

describe("the actions of a rule", () => {
  it("each start with nothing chosen, so that pre-flight asks for it", () => {
    for (const kind of Object.keys(ACTIONS) as Action["kind"][]) {
      const action = newAction(kind, "look");
      expect(action.kind).toBe(kind);
    }
    expect(newAction("start_sequence", "")).toEqual({
      kind: "start_sequence",
      sequence: null,
      lane: null,
    });
  });

  it("tag by the question that the sheet would offer first", () => {
    expect(newAction("tag_by_answer", "look")).toMatchObject({ question: "look", table: [] });
  });

  it("never subscribe anybody before somebody chose so", () => {
    expect(newAction("change_subscription", "")).toMatchObject({ direction: null });
  });

  it("say no two the same words", () => {
    const words = Object.values(ACTIONS);
    expect(new Set(words).size).toBe(words.length);
  });
});

describe("a name for a tag", () => {
  const tag = { kind: "add_tags", tags: [] } as Action;
  const rule = (when: Rule["when"]): Rule => ({ id: "t1", on: true, when, action: tag });
  const looks = { name: "look", choices: [{ key: "deep", label: "Deep sky", synonyms: [] }] };
  const questions = [looks as unknown as Question];
  const answer = (value: string) =>
    ({ kind: "answer", question: "look", op: "is", value }) as unknown as NonNullable<
      Rule["when"]
    >["of"][number];

  it("comes from where people come from", () => {
    expect(tagNameFor(rule(null), [], "Telescope guide")).toBe("from the telescope guide");
    expect(tagNameFor(rule(null), [], "")).toBe("");
  });

  it("or from the one answer that the rule looks for", () => {
    expect(tagNameFor(rule({ kind: "all", of: [answer("deep")] }), questions, "Guide")).toBe(
      "deep sky",
    );
    const two = rule({ kind: "all", of: [answer("deep"), answer("x")] });
    expect(tagNameFor(two, questions, "Guide")).toBe("from the guide");
  });
});
