import { inputsOf, isFirstName, type Answer, type Question } from "../routeDocument";
import { ChoiceSettings } from "./ChoiceSettings";
import { NameSettings } from "./NameSettings";
import { PhoneSettings } from "./PhoneSettings";
import type { QuestionKind } from "./QuestionKind";

const WRITTEN = { field: "text", html: "text", begins: true, fromPage: true } as const;
const CHOSEN = {
  html: "chosen",
  example: (question: Question) => question.choices[0]?.key ?? "",
  Settings: ChoiceSettings,
  begins: false,
  fromPage: true,
} as const;
const own = (question: Question) => question.value;

/** Every type of question, in the order in which they are offered. */
export const QUESTIONS: Record<Question["type"], QuestionKind> = {
  email: { ...WRITTEN, name: "email", html: "email", example: () => "Ines@Example.com" },
  name: {
    ...WRITTEN,
    name: "name",
    example: (question) => (isFirstName(question) ? "ines" : "ines van der berg"),
    Settings: NameSettings,
  },
  text: { ...WRITTEN, name: "text", example: own },
  long_text: {
    ...WRITTEN,
    name: "long text",
    field: "long_text",
    html: "textarea",
    example: own,
  },
  phone: {
    ...WRITTEN,
    name: "phone",
    field: "phone",
    html: "tel",
    example: () => "+44 20 7946 0000",
    Settings: PhoneSettings,
  },
  country: { ...WRITTEN, name: "country", field: "country", example: () => "Portugal" },
  date: { ...WRITTEN, name: "date", field: "date", html: "date", example: () => "1987-03-21" },
  number: { ...WRITTEN, name: "number", field: "number", example: () => "12" },
  choice: { ...CHOSEN, name: "single choice", field: "choice" },
  choices: { ...CHOSEN, name: "multiple choice", field: "choices" },
  yes_no: {
    name: "yes or no",
    field: "yes_no",
    html: "box",
    example: () => "yes",
    begins: false,
    fromPage: true,
  },
  consent: {
    name: "consent",
    field: "yes_no",
    html: "box",
    example: () => "yes",
    labelled: "What they agree to, as it is shown and kept",
    helps: "the box",
    begins: false,
    fromPage: false,
  },
  address: {
    ...WRITTEN,
    name: "postal address",
    example: own,
    begins: false,
    fromPage: false,
  },
  url: {
    ...WRITTEN,
    name: "web address",
    field: "url",
    html: "url",
    example: () => "https://www.example.org",
  },
  hidden: {
    ...WRITTEN,
    name: "hidden",
    html: "hidden",
    example: own,
    labelled: "What it holds",
    unseen: true,
  },
};

/** Them by name, as they are offered. */
export const OFFERED_QUESTIONS = Object.entries(QUESTIONS).map(
  ([type, kind]): [Question["type"], string] => [type as Question["type"], kind.name],
);

/** The questions that a choice can be made in. */
export function isChoice(question: Question): boolean {
  return QUESTIONS[question.type].html === "chosen";
}

/** The questions that are answered by ticking a box. */
export function isBox(question: Question): boolean {
  return QUESTIONS[question.type].html === "box";
}

/** The type that a new field for this question would have. */
export function fieldTypeFor(question: Question | undefined): QuestionKind["field"] {
  return question ? QUESTIONS[question.type].field : "text";
}

const EXAMPLES: Record<string, string> = {
  first: "ines",
  last: "van der berg",
  street: "3 Moor Lane",
  city: "Larkmoor",
  postal_code: "LM1 4AB",
  country: "GB",
};

/** A first answer for each question, for a sample that is typed in. */
export function typedSample(questions: Question[]): Answer[] {
  return questions.flatMap((question) =>
    inputsOf(question).map(({ name, part }) => ({
      name,
      text: part ? (EXAMPLES[part] ?? "") : QUESTIONS[question.type].example(question),
    })),
  );
}
