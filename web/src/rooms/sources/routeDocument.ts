import type { Schemas } from "../../api/client";
import { newId } from "../../parts/newId";

export type RouteDocument = Schemas["RouteDocument"];
export type Question = Schemas["Question"];
export type ReadLine = Schemas["ReadLine"];
export type Rule = Schemas["Rule"];
export type Answer = Schemas["Answer"];
export type Field = Schemas["FieldOut"];
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

/** The document with a question renamed, and every line that uses it following. */
export function renameQuestion(route: RouteDocument, from: string, to: string): RouteDocument {
  const follow = (name: string) => (name === from ? to : name);
  return {
    form: {
      ...route.form,
      questions: route.form.questions.map((one) => ({ ...one, name: follow(one.name) })),
    },
    read_as: route.read_as.map((one) => ({ ...one, question: follow(one.question) })),
    consent: route.consent.map((one) => ({ ...one, question: follow(one.question) })),
    then: route.then.map((rule) =>
      rule.action.kind === "tag_by_answer"
        ? { ...rule, action: { ...rule.action, question: follow(rule.action.question) } }
        : rule,
    ),
    visitor_sees: {
      ...route.visitor_sees,
      passing: route.visitor_sees.passing.map((one) => ({
        ...one,
        question: follow(one.question),
      })),
    },
  };
}

/** The lines that a question would naturally be read by; none where no field fits. */
export function linesFor(question: Question, fields: Field[]): ReadLine[] {
  const byKey = (key: string) => fields.find((one) => one.key === key)?.id ?? null;
  const line = (field: string | null, change: Partial<ReadLine> = {}): ReadLine => ({
    id: newId("r"),
    question: question.name,
    field,
    part: "whole",
    case_right: false,
    overwrite: "always",
    fallback: "",
    ...change,
  });
  if (question.type === "email") return [line(byKey("email"))];
  if (question.type === "name") {
    const first = line(byKey("first_name"), { part: "first", case_right: true });
    if (/first|given/i.test(question.label)) return [first];
    return [first, line(byKey("last_name"), { part: "last", case_right: true })];
  }
  return [line(byKey(inputName(question.label)) ?? byKey(question.name))];
}

/** The type that a new field for this question would have. */
export function fieldTypeFor(question: Question | undefined): Schemas["FieldIn"]["type"] {
  if (question?.type === "choice") return "choice";
  return question?.type === "yes_no" ? "yes_no" : "text";
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

/** A first answer for each question, for a sample that is typed in. */
export function typedSample(questions: Question[]): Answer[] {
  return questions.map((question) => ({ name: question.name, text: exampleAnswer(question) }));
}

function exampleAnswer(question: Question): string {
  switch (question.type) {
    case "email":
      return "Ines@Example.com";
    case "name":
      return /first|given/i.test(question.label) ? "ines" : "ines van der berg";
    case "choice":
      return question.choices[0]?.key ?? "";
    case "yes_no":
      return "yes";
    default:
      return question.value;
  }
}

export const QUESTION_TYPES: Record<Question["type"], string> = {
  email: "email",
  name: "name",
  text: "text",
  choice: "single choice",
  yes_no: "yes or no",
  hidden: "hidden",
};
