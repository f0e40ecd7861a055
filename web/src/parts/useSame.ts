import { replaceEqualDeep } from "@tanstack/react-query";
import { useState } from "react";

/** The value before, and each part of it, as long as they hold the same: what shows them does not render again. */
export function useSame<Value>(value: Value): Value {
  const [kept, setKept] = useState(() => value);
  const same = replaceEqualDeep<Value>(kept, value);
  if (same !== kept) setKept(same);
  return same;
}
