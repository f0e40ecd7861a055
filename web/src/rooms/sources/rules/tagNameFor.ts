import type { Question, Rule } from "../routeDocument";

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
