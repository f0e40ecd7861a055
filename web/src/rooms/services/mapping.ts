import type { Schemas } from "../../api/client";
import { newId } from "../../parts/newId";

type Line = Schemas["FarLine"];
type FarField = Schemas["FarField"];

/** A handover with nothing chosen yet. */
export const NO_HANDOVER: Schemas["Handover"] = {
  service: null,
  operation: "",
  chosen: {},
  lines: [],
  update: true,
  confirm: true,
  if_wrong: "without",
  list: null,
};

/** What a line can be filled with, as one choice. */
export interface Filling {
  key: string;
  group: "Fields" | "Answers" | "Text";
  label: string;
  take: Line["take"];
  what: string;
}

/** A name as names are compared: without case, accents, spaces and marks. */
export function bare(name: string): string {
  return name
    .normalize("NFKD")
    .toLowerCase()
    .replace(/[^\p{L}\p{N}]/gu, "");
}

/** Everything that a line can be filled with here. */
export function fillings(
  fields: Schemas["CatalogueOut"]["fields"],
  asked: { name: string; label: string }[],
): Filling[] {
  return [
    ...fields.map((one): Filling => ({
      key: `field:${one.id}`,
      group: "Fields",
      label: one.label,
      take: "field",
      what: one.id,
    })),
    ...asked.map((one): Filling => ({
      key: `answer:${one.name}`,
      group: "Answers",
      label: one.label,
      take: "answer",
      what: one.name,
    })),
  ];
}

/** What a line is filled with now. */
export function fillingOf(line: Line, all: Filling[]): Filling | null {
  if (line.take === "fixed") return line.what ? fixedText(line.what) : null;
  return all.find((one) => one.take === line.take && one.what === line.what) ?? null;
}

/** A text that is the same for everybody. */
export function fixedText(text: string): Filling {
  return { key: `fixed:${text}`, group: "Text", label: text, take: "fixed", what: text };
}

/** Lines for the fields over there that are required, or that a field here is named like. */
export function proposeLines(
  far: FarField[],
  fields: Schemas["CatalogueOut"]["fields"],
  lines: Line[],
): Line[] {
  const mapped = new Set(lines.map((one) => one.to));
  const proposed = far
    .filter((one) => !mapped.has(one.key))
    .flatMap((one): Line[] => {
      const names = [bare(one.key), bare(one.label)];
      const like =
        one.type === "email"
          ? fields.find((field) => field.type === "email")
          : fields.find(
              (field) => names.includes(bare(field.label)) || names.includes(bare(field.key)),
            );
      if (!like && !(one.required && !one.group)) return [];
      return [{ id: newId("m"), to: one.key, take: "field", what: like?.id ?? "", fallback: "" }];
    });
  return [...lines, ...proposed];
}
