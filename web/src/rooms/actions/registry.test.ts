import { describe, expect, it } from "vitest";
import type { Action } from "./ActionKind";
import { ACTIONS, newAction, OFFERED } from "./registry";

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
    const words = OFFERED.map(([, one]) => one);
    expect(new Set(words).size).toBe(words.length);
  });
});
