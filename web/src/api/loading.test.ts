import { afterEach, beforeEach, expect, test, vi } from "vitest";
import { loaded, NotLoaded } from "./loading";

beforeEach(() => {
  vi.useFakeTimers();
  sessionStorage.clear();
});
afterEach(() => {
  vi.useRealTimers();
});

/** A script that comes at the n-th time. */
function script(comesAt: number) {
  let asked = 0;
  return () => (++asked >= comesAt ? Promise.resolve("room") : Promise.reject(new Error("404")));
}

test("a script that comes late is asked for again", async () => {
  const reload = vi.fn();
  const part = loaded(script(2), reload);
  await vi.advanceTimersByTimeAsync(1_000);
  expect(await part).toBe("room");
  expect(reload).not.toHaveBeenCalled();
});

test("where it does not come the page is loaded anew, once; then it is said", async () => {
  const reload = vi.fn();
  void loaded(script(99), reload);
  await vi.advanceTimersByTimeAsync(5_000);
  expect(reload).toHaveBeenCalledTimes(1);
  const again = loaded(script(99), reload).catch((error: unknown) => error);
  await vi.advanceTimersByTimeAsync(5_000);
  expect(await again).toBeInstanceOf(NotLoaded);
  expect(reload).toHaveBeenCalledTimes(1);
});

test("after a reload that helped the next one may reload again", async () => {
  const reload = vi.fn();
  void loaded(script(99), reload);
  await vi.advanceTimersByTimeAsync(5_000);
  expect(await loaded(script(1), reload)).toBe("room");
  void loaded(script(99), reload);
  await vi.advanceTimersByTimeAsync(5_000);
  expect(reload).toHaveBeenCalledTimes(2);
});
