import { withChips } from "../liquid";

const STYLE = "data-style";

/** The same with the style of each element under a name that means nothing to a browser. */
function withoutStyles(html: string): string {
  return html.replace(/<[a-z][^>]*>/gi, (tag) => tag.replace(/\sstyle(?=\s*=)/gi, ` ${STYLE}`));
}

/**
 * What is pasted from other programs, as a letter can hold it. Styles are read as they are written:
 * the page's policy lets no browser apply them, so `node.style` is always empty here.
 */
export function cleanPasted(html: string): string {
  // A piece of a letter of ours.
  if (html.includes("data-pm-slice")) return html;
  const body = new DOMParser().parseFromString(withoutStyles(html), "text/html").body;
  for (const one of body.querySelectorAll("style, script, meta, link, title, colgroup"))
    one.remove();
  dropComments(body);
  // Elements of other vocabularies, such as `o:p`.
  for (const one of body.querySelectorAll("*")) if (one.localName.includes(":")) unwrap(one);
  makeLists(body);
  spreadDirection(body, "");
  for (const one of innermostFirst(body.querySelectorAll<HTMLElement>(`[${STYLE}]`))) plainly(one);
  for (const table of innermostFirst(body.querySelectorAll("table")))
    table.replaceWith(...rows(table));
  for (const one of body.querySelectorAll("p")) if (isEmpty(one)) one.remove();
  return withChips(body.innerHTML);
}

/** Lines of text, as paragraphs: an empty line parts them, a single break stays one. */
export function pastedText(text: string): string {
  const escaped = (line: string) => {
    const box = document.createElement("p");
    box.textContent = line;
    return box.innerHTML;
  };
  const paragraphs = text.replaceAll("\r\n", "\n").split(/\n{2,}/);
  return withChips(
    paragraphs.map((one) => `<p>${one.split("\n").map(escaped).join("<br>")}</p>`).join(""),
  );
}

function innermostFirst<Kind extends Element>(found: NodeListOf<Kind>): Kind[] {
  return [...found].reverse();
}

function dropComments(body: HTMLElement): void {
  const walker = document.createTreeWalker(body, NodeFilter.SHOW_COMMENT);
  const comments: Node[] = [];
  while (walker.nextNode()) comments.push(walker.currentNode);
  for (const one of comments) one.parentNode?.removeChild(one);
}

function isEmpty(one: Element): boolean {
  return !one.querySelector("img, br, span[data-field]") && !one.textContent.trim();
}

function unwrap(one: Element): void {
  one.replaceWith(...one.childNodes);
}

/** What a style attribute says of a property, in small letters; empty where it says nothing. */
function styleOf(one: Element, property: string): string {
  const found = new RegExp(`(?:^|;)\\s*${property}\\s*:\\s*([^;]+)`, "i").exec(
    one.getAttribute(STYLE) ?? "",
  );
  return found?.[1]?.trim().toLowerCase() ?? "";
}

const isBold = (weight: string) => weight.startsWith("bold") || Number(weight) >= 600;
const isPlain = (value: string) => value === "normal" || (value !== "" && Number(value) < 600);

/** Strong, emphasis and what is struck out become elements; all other styling goes. */
function plainly(one: HTMLElement): void {
  const weight = styleOf(one, "font-weight");
  const slant = styleOf(one, "font-style");
  const line = `${styleOf(one, "text-decoration")} ${styleOf(one, "text-decoration-line")}`;
  one.removeAttribute(STYLE);
  if (one.matches("b, strong") && isPlain(weight)) {
    unwrap(one);
    return;
  }
  if (one.matches("i, em") && isPlain(slant)) {
    unwrap(one);
    return;
  }
  const within: string[] = [];
  if (isBold(weight) && !one.matches("b, strong, h1, h2, h3, h4, h5, h6, th"))
    within.push("strong");
  if (/italic|oblique/.test(slant) && !one.matches("i, em")) within.push("em");
  if (line.includes("line-through") && !one.matches("s")) within.push("s");
  for (const tag of within) {
    const around = document.createElement(tag);
    around.append(...one.childNodes);
    one.append(around);
  }
}

const BLOCKS = "p, h1, h2, h3, h4, h5, h6, li, ul, ol, blockquote, div, table";

/** The direction of what stands around goes to each paragraph, since the boxes around do not stay. */
function spreadDirection(one: Element, above: string): void {
  const own = one.getAttribute("dir") || styleOf(one, "direction") || above;
  const direction = /^(rtl|ltr)$/i.test(own) ? own.toLowerCase() : "";
  if (direction && one.matches("p, h1, h2, h3, h4, h5, h6, li")) one.setAttribute("dir", direction);
  for (const child of one.children) spreadDirection(child, direction);
}

/** A table of data: a paragraph for each row. One that only places things: what stands in it. */
function rows(table: HTMLTableElement): Node[] {
  const places = [...table.querySelectorAll("td, th")].some((one) => one.querySelector(BLOCKS));
  if (places) {
    return [...table.querySelectorAll("td, th")].map((one) => {
      const box = document.createElement("div");
      box.append(...one.childNodes);
      return box;
    });
  }
  return [...table.rows].map((row) => {
    const line = document.createElement("p");
    for (const cell of row.cells) {
      if (line.childNodes.length) line.append(" · ");
      const held = cell.matches("th") ? document.createElement("strong") : undefined;
      held?.append(...cell.childNodes);
      line.append(...(held ? [held] : cell.childNodes));
    }
    return line;
  });
}

/** Paragraphs that a word processor marks as lines of a list. */
function makeLists(body: HTMLElement): void {
  const lines = [...body.querySelectorAll("p")].filter((one) => styleOf(one, "mso-list"));
  let open: { list: HTMLElement; level: number }[] = [];
  let before: Element | undefined;
  for (const line of lines) {
    if (line.previousElementSibling !== before) open = [];
    const level = Number(/level(\d)/.exec(styleOf(line, "mso-list"))?.[1] ?? 1);
    const markers = [...line.querySelectorAll("span")].filter(
      (one) => styleOf(one, "mso-list") === "ignore",
    );
    const numbered = /^\s*\(?\w{1,3}[.)]/.test(markers[0]?.textContent ?? "");
    for (const one of markers) one.remove();
    while (open.length && (open.at(-1)?.level ?? 0) > level) open.pop();
    let list = open.at(-1)?.level === level ? open.at(-1)?.list : undefined;
    const item = document.createElement("li");
    const direction = line.getAttribute("dir");
    if (direction) item.setAttribute("dir", direction);
    item.append(...line.childNodes);
    if (!list) {
      list = document.createElement(numbered ? "ol" : "ul");
      const above = open.at(-1)?.list.lastElementChild;
      if (above) above.append(list);
      else line.before(list);
      open.push({ list, level });
    }
    list.append(item);
    before = open[0]?.list;
    line.remove();
  }
}
