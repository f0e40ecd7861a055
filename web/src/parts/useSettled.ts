import { useDebounce } from "use-debounce";

/** A value once it has not changed for some milliseconds; the same content is the same value. */
export function useSettled<Value>(value: Value, wait: number): Value {
  return useDebounce(value, wait, { equalityFn: readsAlike })[0];
}

function readsAlike(one: unknown, other: unknown): boolean {
  return JSON.stringify(one) === JSON.stringify(other);
}
