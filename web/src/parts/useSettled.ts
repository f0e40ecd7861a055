import { useEffect, useState } from "react";

/** A value once it has not changed for some milliseconds. */
export function useSettled<Value>(value: Value, wait: number): Value {
  const [settled, setSettled] = useState(value);
  const key = JSON.stringify(value);
  useEffect(() => {
    const timer = window.setTimeout(() => setSettled(JSON.parse(key) as Value), wait);
    return () => window.clearTimeout(timer);
  }, [key, wait]);
  return settled;
}
