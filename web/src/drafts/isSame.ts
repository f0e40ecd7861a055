/** Whether two documents hold the same: the server writes keys in any order, and nothing as null. */
export function isSame(one: unknown, other: unknown): boolean {
  return JSON.stringify(inOrder(one)) === JSON.stringify(inOrder(other));
}

function inOrder(value: unknown): unknown {
  if (Array.isArray(value)) return value.map(inOrder);
  if (value === null || typeof value !== "object") return value;
  return Object.fromEntries(
    Object.entries(value)
      .filter(([, held]) => held !== null && held !== undefined)
      .sort(([name], [next]) => (name < next ? -1 : 1))
      .map(([name, held]) => [name, inOrder(held)]),
  );
}
