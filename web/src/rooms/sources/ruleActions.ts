import type { Question, Rule } from "./routeDocument";

export type Action = Rule["action"];

/** What each action does, in words; in the order in which they are offered. */
export const ACTIONS: Record<Action["kind"], string> = {
  add_tags: "Tag",
  tag_by_answer: "Tag by answer",
  tag_from_answer: "Tag with the answer itself",
  remove_tags: "Remove tags",
  put_field: "Set a field",
  change_score: "Change the score",
  record_event: "Record an event",
  change_subscription: "Subscribe or unsubscribe",
  start_sequence: "Start a sequence",
  stop_sequence: "Stop a sequence",
  send_now: "Send a message now",
  set_owner: "Set the owner",
  make_task: "Make a task for the owner",
  notify: "Tell members",
  hand_over: "Hand to a service",
};

/** An action of a kind, with nothing chosen yet. */
export function newAction(kind: Action["kind"], question: string): Action {
  switch (kind) {
    case "add_tags":
    case "remove_tags":
      return { kind, tags: [] };
    case "tag_by_answer":
      return { kind, question, table: [] };
    case "tag_from_answer":
      return { kind, question: "", prefix: "", only: [] };
    case "put_field":
      return { kind, field: null, value: "" };
    case "change_score":
      return { kind, by: 1 };
    case "record_event":
      return { kind, name: "" };
    case "change_subscription":
      return {
        kind,
        list: null,
        every_list: false,
        direction: null,
        question: "",
        subscribe_words: ["subscribe", "yes"],
        unsubscribe_words: ["unsubscribe", "stop", "no"],
      };
    case "start_sequence":
      return { kind, sequence: null, lane: null };
    case "stop_sequence":
      return { kind, sequence: null, every_sequence: false };
    case "send_now":
      return { kind, message: null, list: null };
    case "set_owner":
      return { kind, how: "fixed", members: [], question: "", table: [] };
    case "make_task":
      return { kind, title: "", days: 1 };
    case "notify":
      return { kind, members: [], owner: false };
    case "hand_over":
      return {
        kind,
        handover: {
          service: null,
          operation: "",
          chosen: {},
          lines: [],
          update: true,
          confirm: true,
          if_wrong: "without",
          list: null,
        },
      };
  }
}

/** A name for a tag that fits what a rule does: the choice it looks for, else where people come from. */
export function tagNameFor(rule: Rule, questions: Question[], source: string): string {
  const [only, ...more] = rule.when?.kind === "all" ? rule.when.of : [];
  if (only && more.length === 0 && only.kind === "answer" && only.op === "is") {
    const asked = questions.find((one) => one.name === only.question);
    const label = asked?.choices.find((one) => one.key === only.value)?.label ?? only.value;
    if (label.trim()) return label.trim().toLowerCase();
  }
  return source ? `from the ${source.toLowerCase()}` : "";
}
