import type { Schemas } from "../../../api/client";
import { newId } from "../../../parts/newId";

export type MessageDocument = Schemas["MessageDocument"];
export type Block = MessageDocument["blocks"][number];
export type ColumnsBlock = Extract<Block, { kind: "columns" }>;
export type InColumn = Schemas["Column"]["blocks"][number];
export type Kind = Block["kind"];

/** What can be added to a letter, in the order in which it is offered. */
export const KINDS: [Kind, string][] = [
  ["text", "Text"],
  ["heading", "Heading"],
  ["picture", "Picture"],
  ["button", "Button"],
  ["file", "Link to the file"],
  ["quotation", "Quotation"],
  ["columns", "Columns"],
  ["divider", "Divider"],
  ["space", "Space"],
  ["footer", "Part of the footer"],
];
export const IN_COLUMNS = KINDS.filter(([kind]) => kind !== "columns");

/** The parts of the footer, as they stand below a letter that places none of them. */
export const FOOTER_PARTS: [Schemas["FooterBlock"]["part"], string][] = [
  ["text", "Footer text"],
  ["links", "Links"],
  ["sender", "Sender and postal address"],
  ["why", "Why they get it"],
  ["leave", "Link to unsubscribe"],
  ["own_page", "Link to their own page"],
];

/** The parts that a letter does not place itself. */
export function unplaced(blocks: Block[]): string[] {
  const inside = blocks.flatMap((one): Block[] =>
    one.kind === "columns" ? one.columns.flatMap((column) => column.blocks) : [one],
  );
  const placed = new Set(inside.flatMap((one) => (one.kind === "footer" ? [one.part] : [])));
  return FOOTER_PARTS.map(([part]) => part).filter((part) => !placed.has(part));
}

export function nameOf(kind: Kind): string {
  return KINDS.find(([one]) => one === kind)?.[1].toLowerCase() ?? kind;
}

/** A block of a kind, with nothing written yet. */
export function newBlock(kind: Kind): Block {
  const id = newId("b");
  switch (kind) {
    case "text":
      return { kind, id, html: "" };
    case "heading":
      return { kind, id, text: "", level: 2 };
    case "picture":
      return { kind, id, picture: "", alt: "", ornament: false, link: "", share: 100 };
    case "button":
      return { kind, id, label: "", link: "" };
    case "file":
      return { kind, id, label: "Open the file" };
    case "quotation":
      return { kind, id, html: "", by: "" };
    case "divider":
      return { kind, id };
    case "space":
      return { kind, id, height: 24 };
    case "footer":
      return { kind, id, part: "leave" };
    case "columns":
      return {
        kind,
        id,
        columns: [0, 1].map(() => ({ id: newId("c"), parts: 1, blocks: [] })),
      };
  }
}

/** The same block once more, with ids of its own. */
export function copyOf<Some extends Block>(block: Some): Some {
  const copied = { ...block, id: newId("b") };
  if (copied.kind !== "columns") return copied;
  const columns = copied.columns.map((one) => ({
    ...one,
    id: newId("c"),
    blocks: one.blocks.map((inside) => copyOf(inside)),
  }));
  return { ...copied, columns };
}
