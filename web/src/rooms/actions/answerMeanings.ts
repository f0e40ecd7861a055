import type { Asked } from "../sources/asked";
import { isBox } from "../sources/questions/registry";
import type { Action } from "./ActionKind";

export type Subscription = Extract<Action, { kind: "change_subscription" }>;
export type Meaning = "" | "subscribe" | "unsubscribe";

export interface Answer {
  key: string;
  label: string;
}

/** What can be answered to a question, where that is known; else the words have to be stated. */
export function answersOf(asked: Asked | undefined): Answer[] | undefined {
  const question = asked?.question;
  if (!question) return undefined;
  if (question.choices.length > 0) return question.choices;
  if (isBox(question)) {
    return [
      { key: "yes", label: "Yes" },
      { key: "no", label: "No" },
    ];
  }
  return undefined;
}

/** Whether a word of the rule is this answer: its key, or what people read. */
const isAnswer = (answer: Answer) => (word: string) =>
  [answer.key, answer.label].some((text) => text.toLowerCase() === word.toLowerCase());

/** What the rule has a meaning for and cannot be answered any more. */
export function goneAnswers(action: Subscription, answers: Answer[]): Answer[] {
  const words = new Set([...action.subscribe_words, ...action.unsubscribe_words]);
  return [...words]
    .filter((word) => !answers.some((one) => isAnswer(one)(word)))
    .map((word) => ({ key: word, label: `${word} (no longer among the answers)` }));
}

/** What an answer means by the rule's words. */
export function meaningOf(action: Subscription, answer: Answer): Meaning {
  const says = (words: string[]) => words.some(isAnswer(answer));
  if (says(action.unsubscribe_words)) return "unsubscribe";
  return says(action.subscribe_words) ? "subscribe" : "";
}

/** The rule with an answer meaning something else; each is kept by its key. */
export function withMeaning(action: Subscription, answer: Answer, meaning: Meaning): Subscription {
  const others = (words: string[]) => words.filter((word) => !isAnswer(answer)(word));
  return {
    ...action,
    subscribe_words: [
      ...others(action.subscribe_words),
      ...(meaning === "subscribe" ? [answer.key] : []),
    ],
    unsubscribe_words: [
      ...others(action.unsubscribe_words),
      ...(meaning === "unsubscribe" ? [answer.key] : []),
    ],
  };
}

/** The rule about another question: words that were meant for the one before do not stay. */
export function forQuestion(
  action: Subscription,
  question: string,
  asked: Asked | undefined,
): Subscription {
  const known = answersOf(asked);
  const keeps = (words: string[]) =>
    known ? words.filter((word) => known.some((one) => one.key === word)) : words;
  return {
    ...action,
    question,
    subscribe_words: keeps(action.subscribe_words),
    unsubscribe_words: keeps(action.unsubscribe_words),
  };
}
