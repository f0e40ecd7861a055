import rules from "../../api/rules.json";
import type { Schemas } from "../../api/client";
import { newId } from "../../parts/newId";
import { isGroup, type Group } from "../conditions/condition";

export type RouteDocument = Schemas["RouteDocument"];
export type Question = Schemas["Question"];
export type ReadLine = Schemas["ReadLine"];
export type Rule = Schemas["Rule"];
export type Answer = Schemas["Answer"];
export type Field = Schemas["FieldOut"];
export type Kind = Schemas["SourceOut"]["kind"];
export type Edit = (change: (before: RouteDocument) => RouteDocument) => void;

/** The name of an input, made from what it asks: "First name" gives first_name. */
export function inputName(label: string): string {
  return label
    .normalize("NFKD")
    .replace(/\p{M}/gu, "")
    .toLowerCase()
    .replace(/[^a-z0-9]+/g, "_")
    .replace(/^_+|_+$/g, "")
    .slice(0, 40);
}

/** The name of a question that no other one has: `wanted`, or with a number behind it. */
export function freeName(route: RouteDocument, id: string, wanted: string): string {
  const taken = new Set(route.form.questions.filter((one) => one.id !== id).map((one) => one.name));
  if (!taken.has(wanted)) return wanted;
  let number = 2;
  while (taken.has(`${wanted}_${number}`)) number += 1;
  return `${wanted}_${number}`;
}

/** The document with one question renamed, known by its id, and every line that uses it following.
 * Where another question has the same name, the lines stay with that one. */
export function renameQuestion(route: RouteDocument, id: string, to: string): RouteDocument {
  const from = route.form.questions.find((one) => one.id === id)?.name ?? "";
  const shared = route.form.questions.some((one) => one.id !== id && one.name === from);
  // A part of a question (an address's city) follows its question.
  const follow = (name: string) => {
    if (!from || shared) return name;
    return name === from ? to : name.startsWith(`${from}.`) ? to + name.slice(from.length) : name;
  };
  return {
    ...route,
    form: {
      ...route.form,
      questions: route.form.questions.map((one) => (one.id === id ? { ...one, name: to } : one)),
    },
    old_address: follow(route.old_address),
    read_as: route.read_as.map((one) => ({
      ...one,
      question: follow(one.question),
      also: one.also.map(follow),
    })),
    consent: route.consent.map((one) => ({ ...one, question: follow(one.question) })),
    then: route.then.map((rule) => ({
      ...rule,
      action:
        "question" in rule.action
          ? { ...rule.action, question: follow(rule.action.question) }
          : rule.action,
      ...(rule.when && { when: followed(rule.when, follow) }),
    })),
    visitor_sees: {
      ...route.visitor_sees,
      passing: route.visitor_sees.passing.map((one) => ({
        ...one,
        question: follow(one.question),
      })),
    },
  };
}

function followed(group: Group, follow: (name: string) => string): Group {
  return {
    ...group,
    of: group.of.map((one) => {
      if (isGroup(one)) return followed(one, follow);
      return one.kind === "answer" ? { ...one, question: follow(one.question) } : one;
    }),
  };
}

/** A line that reads a question, with nothing chosen yet. */
export function emptyLine(question: string): ReadLine {
  return {
    id: newId("r"),
    question,
    also: [],
    constant: "",
    field: null,
    part: "whole",
    case_right: false,
    overwrite: "always",
    erases: false,
    fallback: "",
    country: "",
    date_order: "unstated",
    decimal_mark: ".",
    yes_words: [],
    no_words: [],
  };
}

/** A question of a type, with nothing asked yet. */
export function emptyQuestion(type: Question["type"], first: boolean): Question {
  const email = type === "email";
  return {
    id: newId("q"),
    name: email && first ? "email" : "",
    type,
    label: email ? "Email" : "",
    help: "",
    required: email,
    choices: [],
    look: "list",
    boxes: 1,
    country: "",
    value: "",
    parameter: "",
  };
}

export interface Input {
  name: string;
  label: string;
  part: string;
}

/** The boxes of a question, as the core names them: one, but for an address and a name in two. */
export function inputsOf(question: Question): Input[] {
  const parts =
    question.type === "address" || (question.type === "name" && question.boxes === 2)
      ? rules.boxes[question.type]
      : [];
  if (parts.length === 0) {
    return [{ name: question.name, label: question.label || question.name, part: "" }];
  }
  return parts.map(({ part, label }) => ({ name: `${question.name}.${part}`, label, part }));
}

/** Whether a question for a name asks for the first name alone. */
export function isFirstName(question: Question): boolean {
  return /first|given/i.test(question.label);
}

/** The lines that a question would naturally be read by; none where no field fits. */
export function linesFor(question: Question, fields: Field[]): ReadLine[] {
  const byKey = (key: string) => fields.find((one) => one.key === key)?.id ?? null;
  const line = (field: string | null, change: Partial<ReadLine> = {}): ReadLine => ({
    ...emptyLine(question.name),
    field,
    ...change,
  });
  const inputs = inputsOf(question);
  if (inputs.length > 1) {
    return inputs.map((one) => {
      const name = question.type === "name";
      const key = name ? `${one.part}_name` : one.part;
      return line(byKey(key) ?? byKey(inputName(one.label)), {
        question: one.name,
        case_right: name,
      });
    });
  }
  if (question.type === "email") return [line(byKey("email"))];
  if (question.type === "name") {
    const first = line(byKey("first_name"), { part: "first", case_right: true });
    if (isFirstName(question)) return [first];
    return [first, line(byKey("last_name"), { part: "last", case_right: true })];
  }
  return [line(byKey(inputName(question.label)) ?? byKey(question.name))];
}

/** Moves the item at `index` up or down by one. */
export function moved<Item>(items: Item[], index: number, by: -1 | 1): Item[] {
  const to = index + by;
  const copy = [...items];
  const [item] = copy.splice(index, 1);
  if (item === undefined || to < 0 || to > copy.length) return items;
  copy.splice(to, 0, item);
  return copy;
}

/** Of a file or another program: the most usual answer to each question that came. */
export function seenSample(seen: Schemas["SeenQuestion"][] | undefined): Answer[] {
  return (seen ?? []).map(({ name, values }) => ({ name, text: values[0] ?? "" }));
}
