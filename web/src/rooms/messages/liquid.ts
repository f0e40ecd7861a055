/**
 * The body is stored as HTML with Liquid tokens; the editor shows tokens as chips. Only
 * simple tokens become chips: a field, perhaps with a fallback. Other Liquid stays as text.
 */

const TOKEN = /\{\{\s*([a-zA-Z_]\w*)\s*(?:\|\s*default:\s*(?:"([^"]*)"|'([^']*)')\s*)?\}\}/g;

/** A token of Liquid for a field, with a fallback where there is one. */
export function token(field: string, fallback: string): string {
  if (!fallback) return `{{ ${field} }}`;
  const quote = fallback.includes('"') ? "'" : '"';
  const safe = quote === "'" ? fallback.replaceAll("'", "’") : fallback;
  return `{{ ${field} | default: ${quote}${safe}${quote} }}`;
}

function parsed(html: string): HTMLElement {
  return new DOMParser().parseFromString(html, "text/html").body;
}

/** HTML for the editor: tokens in the text become elements that the editor shows as chips. */
export function withChips(html: string): string {
  const body = parsed(html);
  const walker = document.createTreeWalker(body, NodeFilter.SHOW_TEXT);
  const texts: Text[] = [];
  while (walker.nextNode()) texts.push(walker.currentNode as Text);
  for (const text of texts) {
    const pieces: Node[] = [];
    let from = 0;
    for (const found of text.data.matchAll(TOKEN)) {
      pieces.push(document.createTextNode(text.data.slice(from, found.index)));
      const chip = document.createElement("span");
      chip.dataset["field"] = found[1] ?? "";
      chip.dataset["fallback"] = found[2] ?? found[3] ?? "";
      pieces.push(chip);
      from = found.index + found[0].length;
    }
    if (from === 0) continue;
    pieces.push(document.createTextNode(text.data.slice(from)));
    text.replaceWith(...pieces);
  }
  return body.innerHTML;
}

/** HTML for keeping: chips become tokens again. */
export function withTokens(html: string): string {
  const body = parsed(html);
  for (const chip of body.querySelectorAll<HTMLElement>("span[data-field]")) {
    chip.replaceWith(token(chip.dataset["field"] ?? "", chip.dataset["fallback"] ?? ""));
  }
  return body.innerHTML;
}

/** A piece of a line with tokens: words as they stand, or the key of what is filled in. */
export type LinePiece = { words: string } | { field: string };

/** A line such as a subject, for reading: what is filled in apart, conditions left out. */
export function linePieces(line: string): LinePiece[] {
  const pieces: LinePiece[] = [];
  for (const [index, piece] of line
    .replace(/\{%.*?%\}/g, "")
    .split(/\{\{(.*?)\}\}/)
    .entries()) {
    const field = /[a-zA-Z_]\w*/.exec(piece)?.[0];
    if (index % 2 === 0) pieces.push({ words: piece });
    else if (field) pieces.push({ field });
  }
  return pieces.filter((one) => "field" in one || one.words !== "");
}
