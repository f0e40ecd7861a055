import { describe, expect, it } from "vitest";
import type { Question, Rule } from "../routeDocument";
import { tagNameFor } from "./tagNameFor";

describe("a name for a tag", () => {
  const tag = { kind: "add_tags", tags: [] } as Rule["action"];
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
