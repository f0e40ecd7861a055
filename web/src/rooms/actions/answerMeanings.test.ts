import { describe, expect, it } from "vitest";
import {
  answersOf,
  forQuestion,
  meaningOf,
  withMeaning,
  type Meaning,
  type Subscription,
} from "./answerMeanings";
import type { Asked } from "../sources/asked";
import { emptyQuestion } from "../sources/routeDocument";
import { newAction } from "./registry";

const KEEP = { key: "yes-keep-me-on", label: "Yes, keep me on", synonyms: [] };
const OFF = { key: "no-take-me-off", label: "No, take me off", synonyms: [] };
const asked: Asked = {
  name: "stay",
  label: "Stay?",
  group: "Asked",
  question: { ...emptyQuestion("choice", false), name: "stay", choices: [KEEP, OFF] },
  values: [],
  type: "choice",
};
const fresh = newAction("change_subscription", "") as Subscription;

describe("what an answer means", () => {
  it("begins with nothing, whatever words a rule had", () => {
    const rule = forQuestion(fresh, "stay", asked);
    expect([KEEP, OFF].map((one) => meaningOf(rule, one))).toEqual(["", ""]);
    expect(rule.unsubscribe_words).toEqual([]);
  });

  it("is chosen for each, and changed", () => {
    let rule = forQuestion(fresh, "stay", asked);
    for (const meaning of ["subscribe", "unsubscribe", ""] as Meaning[]) {
      rule = withMeaning(rule, OFF, meaning);
      expect(meaningOf(rule, OFF)).toBe(meaning);
      expect(meaningOf(rule, KEEP)).toBe("");
    }
  });

  it("is read from a label too", () => {
    expect(meaningOf({ ...fresh, unsubscribe_words: ["NO, take me off"] }, OFF)).toBe(
      "unsubscribe",
    );
  });

  it("is stated in words where the answers are not known", () => {
    const came: Asked = { ...asked };
    delete came.question;
    expect(answersOf(came)).toBeUndefined();
    expect(forQuestion(fresh, "stay", came).subscribe_words).toEqual(fresh.subscribe_words);
    expect(answersOf({ ...asked, question: emptyQuestion("consent", false) })).toHaveLength(2);
  });

  it("a new rule does nothing", () => {
    expect([fresh.direction, fresh.every_list, fresh.list]).toEqual([null, false, null]);
  });
});
