import { useEffect, useRef, useState } from "react";
import { useSettled } from "../../parts/useSettled";
import type { Group } from "../conditions/condition";

/** The condition that the address of the page holds; none where it holds no such thing. */
export function conditionOf(text: string | null): Group | null {
  try {
    const found = JSON.parse(text ?? "null") as Group | null;
    return found && Array.isArray(found.of) ? found : null;
  } catch {
    return null;
  }
}

/**
 * A condition while it is edited: kept here, so that no key is lost, and put into the address of
 * the page once nobody types any more.
 */
export function useCondition(text: string | null, onSettled: (text: string | undefined) => void) {
  const [who, setWho] = useState(() => conditionOf(text));
  const settled = useSettled(who, 300);
  const told = useRef(text);
  const tell = useRef(onSettled);
  useEffect(() => {
    tell.current = onSettled;
  });
  useEffect(() => {
    const next = settled ? JSON.stringify(settled) : null;
    if (next === told.current) return;
    told.current = next;
    tell.current(next ?? undefined);
  }, [settled]);
  useEffect(() => {
    // Another address: a link, or the way back.
    if (text === told.current) return;
    told.current = text;
    setWho(conditionOf(text));
  }, [text]);
  return { who, settled, setWho: (next: Group | undefined) => setWho(next ?? null) };
}
