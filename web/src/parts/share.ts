import { number } from "./formats";

/** A share of a total in percent. */
export function percent(part: number, total: number): string {
  const share = total === 0 ? 0 : (100 * part) / total;
  return `${number(share, share > 0 && share < 10 ? 1 : 0)}%`;
}

/** The same with its total: “6.1% of 410”. */
export function shareOf(part: number, total: number): string {
  return total === 0 ? "of none" : `${percent(part, total)} of ${number(total)}`;
}
