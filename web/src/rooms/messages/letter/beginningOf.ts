import { linePieces } from "../liquid";
import type { Block } from "./blocks";

/** The first words of a letter, for reading: no markup, and of what is filled in the label. */
export function beginningOf(blocks: Block[], labels: Map<string, string>, most = 180): string {
  const texts = blocks.map((block) => {
    if (block.kind === "text" || block.kind === "quotation") return plain(block.html);
    if (block.kind === "heading") return block.text;
    return "";
  });
  const whole = linePieces(texts.filter(Boolean).join(" "))
    .map((piece) => ("words" in piece ? piece.words : (labels.get(piece.field) ?? piece.field)))
    .join("")
    .replace(/\s+/g, " ")
    .trim();
  return whole.length > most ? `${whole.slice(0, most).trimEnd()} …` : whole;
}

function plain(html: string): string {
  const body = new DOMParser().parseFromString(html.replaceAll("</p>", "</p> "), "text/html").body;
  return body.textContent;
}
