import { renderHook } from "@testing-library/react";
import { expect, test } from "vitest";
import { useAllCome } from "./useAllCome";

const coming = { isLoading: true, failureCount: 0 };
const here = { isLoading: false, failureCount: 0 };
const failing = { isLoading: true, failureCount: 1 };

const asks = (...first: [string, (typeof here)[]]) =>
  renderHook(([of, asked]: [string, (typeof here)[]]) => useAllCome(of, asked), {
    initialProps: first,
  });

test("it waits for all of them, but for none that fails", () => {
  const { result, rerender } = asks("a", [coming, here]);
  expect(result.current).toBe(false);
  rerender(["a", [failing, here]]);
  expect(result.current).toBe(true);
});

test("what is asked for again takes nothing away from whoever works there", () => {
  const { result, rerender } = asks("a", [here, here]);
  rerender(["a", [coming, here]]);
  expect(result.current).toBe(true);
});

test("another room waits anew", () => {
  const { result, rerender } = asks("a", [here]);
  rerender(["b", [coming]]);
  expect(result.current).toBe(false);
  rerender(["b", [here]]);
  expect(result.current).toBe(true);
});
