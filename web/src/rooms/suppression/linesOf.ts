/**
 * The first cell of each line of a pasted text or a CSV file, without quotes. A line that holds
 * nothing, or the heading of our own export, is empty: it keeps its place, so that a problem
 * names the line that its reader sees.
 */
export function linesOf(text: string): string[] {
  return text
    .replace(/^\uFEFF/, "")
    .split(/\r?\n/)
    .map((line) => (line.split(/[,;\t]/)[0] ?? "").trim().replace(/^["']+|["']+$/g, ""))
    .map((cell) => (cell === "address or domain" ? "" : cell.trim()));
}
