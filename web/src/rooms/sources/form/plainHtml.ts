import type { Schemas } from "../../../api/client";
import { QUESTIONS } from "../questions/registry";
import { inputsOf, type Question } from "../routeDocument";

const escaped = (text: string) =>
  text
    .replaceAll("&", "&amp;")
    .replaceAll("<", "&lt;")
    .replaceAll(">", "&gt;")
    .replaceAll('"', "&quot;");

/** The form as plain HTML, without script or style, to be put into any page. */
export function plainHtml(form: Schemas["Form"], address: string): string {
  const lines = [`<form method="post" action="${escaped(address)}" accept-charset="utf-8">`];
  for (const question of form.questions) lines.push(...questionHtml(question));
  lines.push(
    '  <p hidden><label>Leave this empty <input name="_website" tabindex="-1"></label></p>',
    `  <button>${escaped(form.button || "Send")}</button>`,
    "</form>",
  );
  return lines.join("\n");
}

function questionHtml(question: Question): string[] {
  const label = escaped(question.label || question.name);
  const name = escaped(question.name);
  const needed = question.required ? " required" : "";
  const { html } = QUESTIONS[question.type];
  if (html === "hidden") {
    return [`  <input type="hidden" name="${name}" value="${escaped(question.value)}">`];
  }
  if (html === "chosen") {
    const type = question.type === "choice" ? "radio" : "checkbox";
    return [
      `  <fieldset><legend>${label}</legend>`,
      ...question.choices.map(
        (one) =>
          `    <label><input type="${type}" name="${name}" value="${escaped(one.key)}"> ${escaped(one.label)}</label>`,
      ),
      "  </fieldset>",
    ];
  }
  if (html === "box") {
    return [
      `  <label><input type="checkbox" name="${name}" value="yes"${needed}> ${label}</label>`,
    ];
  }
  return inputsOf(question).map((input) => {
    const shown = input.part ? escaped(input.label) : label;
    if (html === "textarea") {
      return `  <label>${shown} <textarea name="${escaped(input.name)}"${needed}></textarea></label>`;
    }
    return `  <label>${shown} <input type="${html}" name="${escaped(input.name)}"${needed}></label>`;
  });
}
