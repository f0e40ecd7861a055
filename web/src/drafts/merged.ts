import { isSame } from "./isSame";

/** Both changed the same. */
export const CONFLICT = Symbol("conflict");

/**
 * What two wrote from the same beginning, together: each value from the one who changed it. `CONFLICT`
 * where both changed a value, and not to the same. Lists are one value.
 */
export function merged(before: unknown, mine: unknown, theirs: unknown): unknown {
  if (isSame(mine, theirs) || isSame(before, theirs)) return mine;
  if (isSame(before, mine)) return theirs;
  if (!isRecord(before) || !isRecord(mine) || !isRecord(theirs)) return CONFLICT;
  const found: Record<string, unknown> = {};
  for (const name of new Set([...Object.keys(mine), ...Object.keys(theirs)])) {
    const one = merged(before[name], mine[name], theirs[name]);
    if (one === CONFLICT) return CONFLICT;
    if (one !== undefined) found[name] = one;
  }
  return found;
}

function isRecord(value: unknown): value is Record<string, unknown> {
  return typeof value === "object" && value !== null && !Array.isArray(value);
}
