/** A share of a total in percent, with its total: “6.1% of 410”. */
export function shareOf(part: number, total: number): string {
  if (total === 0) return "of none";
  const percent = (100 * part) / total;
  const digits = percent > 0 && percent < 10 ? 1 : 0;
  return `${percent.toFixed(digits)}% of ${total.toLocaleString("en")}`;
}
