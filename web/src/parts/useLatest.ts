import { useEffect, useRef } from "react";

/**
 * A value as it was last rendered, for whoever goes on after waiting: what was closed over before
 * the wait does not know what was edited meanwhile, and would put it back.
 */
export function useLatest<Value>(value: Value) {
  const latest = useRef(value);
  useEffect(() => {
    latest.current = value;
  }, [value]);
  return latest;
}
