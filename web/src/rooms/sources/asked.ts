import type { Schemas } from "../../api/client";
import { fieldTypeFor } from "./questions/registry";
import { inputsOf, type Question, type RouteDocument } from "./routeDocument";

/** What a line of the map can read: a question that is asked, one that came, or the context. */
export interface Asked {
  name: string;
  label: string;
  group: "Asked" | "Received" | "Typed" | "Other data";
  question?: Question;
  /** The share of the last submissions that had it, from 0 to 1. */
  share?: number;
  values: string[];
  type: Schemas["FieldIn"]["type"];
}

const CONTEXT: [string, string][] = [
  ["@page", "Page of the form"],
  ["@title", "Title of that page"],
  ["@referrer", "Page they came from"],
  ["@source", "Name of the source"],
  ["@received", "Received at"],
  ["@ip", "IP address, where it is kept"],
];

/** Every question that the lines of a sheet can read, with what came in lately. */
export function askedBy(document: RouteDocument, seen: Schemas["SeenQuestion"][]): Asked[] {
  const lately = new Map(seen.map((one) => [one.name, one]));
  const asked = document.form.questions
    .filter((one) => one.name)
    .flatMap((question) =>
      inputsOf(question).map((input): Asked => {
        const came = lately.get(input.name);
        const whole = input.part
          ? `${question.label || question.name}: ${input.label.toLowerCase()}`
          : input.label;
        return {
          name: input.name,
          label: whole,
          group: "Asked",
          question,
          ...(came && { share: came.share }),
          values: came?.values ?? [],
          type: input.part
            ? input.part === "country"
              ? "country"
              : "text"
            : fieldTypeFor(question),
        };
      }),
    );
  const names = new Set(asked.map((one) => one.name));
  const came = seen
    .filter((one) => !names.has(one.name))
    .map((one): Asked => ({
      name: one.name,
      label: one.name,
      group: "Received",
      share: one.share,
      values: one.values,
      type: one.field_type,
    }));
  for (const one of came) names.add(one.name);
  const typed = document.form.questions.length
    ? []
    : document.read_as
        .map((line) => line.question)
        .filter((name, at, all) => name && !name.startsWith("@") && all.indexOf(name) === at)
        .filter((name) => !names.has(name))
        .map((name): Asked => ({ name, label: name, group: "Typed", values: [], type: "text" }));
  const parameters = document.form.questions
    .filter((one) => one.parameter)
    .map((one) => [`@parameter.${one.parameter}`, `?${one.parameter}= of the page`] as const);
  const context = [...CONTEXT, ...parameters].map(([name, label]): Asked => ({
    name,
    label,
    group: "Other data",
    values: [],
    type: "text",
  }));
  return [...asked, ...came, ...typed, ...context];
}

/** "97% · Moon, Planets": how often it came, and typical answers. */
export function typical(asked: Asked): string {
  const share = asked.share === undefined ? "" : `${Math.round(asked.share * 100)}%`;
  const labels = new Map(asked.question?.choices.map((one) => [one.key, one.label]));
  const values = asked.values
    .slice(0, 3)
    .map((one) => (labels.get(one) ?? one).slice(0, 24))
    .join(", ");
  return [share, values].filter(Boolean).join(" · ");
}
