import { afterEach, beforeEach, describe, expect, it, vi } from "vitest";
import { ApiError } from "../api/client";
import { AGAIN, DraftSession, LONG, QUIET, type Save } from "./DraftSession";

type Text = { text: string };

/** A server that answers when it is told to. */
function server() {
  const calls: {
    text: string;
    basedOn: number;
    answer: (edits: number) => void;
    fail: (e: unknown) => void;
  }[] = [];
  const save: Save<Text> = ({ text }, basedOn) =>
    new Promise((resolve, reject) => {
      calls.push({ text, basedOn, answer: (edits) => resolve({ edits }), fail: reject });
    });
  return { calls, save };
}

const write = (text: string) => () => ({ text });
const settled = () => vi.advanceTimersByTimeAsync(0);

describe("a draft that saves itself", () => {
  beforeEach(() => {
    vi.useFakeTimers();
  });
  afterEach(() => {
    vi.useRealTimers();
  });

  function begin() {
    const { calls, save } = server();
    return { calls, session: new DraftSession<Text>({ document: { text: "" }, edits: 3 }, save) };
  }

  it("saves once, half a second after the last edit", async () => {
    const { calls, session } = begin();
    for (const text of ["a", "ab", "abc"]) {
      session.edit(write(text));
      await vi.advanceTimersByTimeAsync(QUIET - 100);
    }
    expect(calls).toHaveLength(0);
    await vi.advanceTimersByTimeAsync(QUIET);
    expect(calls.map((one) => [one.text, one.basedOn])).toEqual([["abc", 3]]);
    calls[0]?.answer(4);
    await settled();
    expect(session.snapshot()).toMatchObject({ state: "saved", savedEdits: 4 });
  });

  it("is unsaved from the first keystroke until the answer is there", async () => {
    const { calls, session } = begin();
    session.edit(write("a"));
    expect(session.dirty).toBe(true);
    await vi.advanceTimersByTimeAsync(QUIET);
    // The save is under way: leaving now would lose it.
    expect(session.dirty).toBe(true);
    calls[0]?.answer(4);
    await settled();
    expect(session.dirty).toBe(false);
  });

  it("gives each of two who wait the count of a save that holds what they saw", async () => {
    const { calls, session } = begin();
    session.edit(write("a"));
    const first = session.flush();
    session.edit(write("ab"));
    const second = session.flush();
    const third = session.flush();
    await settled();
    calls[0]?.answer(4);
    await settled();
    expect(calls.map((one) => [one.text, one.basedOn])).toEqual([
      ["a", 3],
      ["ab", 4],
    ]);
    calls[1]?.answer(5);
    expect(await first).toBe(4);
    expect(await second).toBe(5);
    expect(await third).toBe(5);
    expect(calls).toHaveLength(2);
  });

  it("says that it failed, keeps what is here, and tries again", async () => {
    const { calls, session } = begin();
    session.edit(write("a"));
    const asked = session.flush();
    await settled();
    calls[0]?.fail(new Error("no network"));
    expect(await asked).toBeUndefined();
    expect(session.snapshot()).toMatchObject({ state: "failed", document: { text: "a" } });
    expect(session.dirty).toBe(true);
    const again = session.flush();
    await settled();
    calls[1]?.answer(4);
    expect(await again).toBe(4);
    expect(session.snapshot().state).toBe("saved");
  });

  it("tries again by itself after 2, 5 and 15 seconds, and from then on every 15", async () => {
    const { calls, session } = begin();
    session.edit(write("a"));
    await vi.advanceTimersByTimeAsync(QUIET);
    for (const [index, wait] of [...AGAIN, 15_000].entries()) {
      calls[index]?.fail(new ApiError(index === 1 ? 503 : 0, "no network"));
      await vi.advanceTimersByTimeAsync(wait - 1);
      expect(calls).toHaveLength(index + 1);
      expect(session.snapshot().state).toBe("failed");
      await vi.advanceTimersByTimeAsync(1);
      expect(calls).toHaveLength(index + 2);
    }
    expect(AGAIN).toEqual([2_000, 5_000, 15_000]);
    calls.at(-1)?.answer(4);
    await settled();
    expect(session.snapshot()).toMatchObject({ state: "saved", savedEdits: 4 });
    await vi.advanceTimersByTimeAsync(60_000);
    expect(calls).toHaveLength(5);
  });

  it("does not try again what is wrong in itself, before it is changed", async () => {
    for (const error of [new ApiError(422, "too long"), new ApiError(409, "somebody else")]) {
      const { calls, session } = begin();
      session.edit(write("a"));
      await vi.advanceTimersByTimeAsync(QUIET);
      calls[0]?.fail(error);
      await settled();
      session.retry();
      await vi.advanceTimersByTimeAsync(60_000);
      expect(calls).toHaveLength(1);
    }
  });

  it("says that a save has had no answer for ten seconds, until there is one", async () => {
    const { calls, session } = begin();
    session.edit(write("a"));
    await vi.advanceTimersByTimeAsync(QUIET + LONG - 1);
    expect(session.snapshot().slow).toBe(false);
    await vi.advanceTimersByTimeAsync(1);
    expect(session.snapshot()).toMatchObject({ slow: true, state: "saving" });
    calls[0]?.answer(4);
    await settled();
    expect(session.snapshot()).toMatchObject({ slow: false, state: "saved" });
  });

  it("notices somebody else, and lets one of the two win", async () => {
    const { calls, session } = begin();
    session.edit(write("mine"));
    const asked = session.flush();
    await settled();
    calls[0]?.fail(new ApiError(409, "Somebody else"));
    await asked;
    expect(session.snapshot().state).toBe("conflict");
    void session.insist({ edits: 9 });
    await settled();
    expect(calls[1]).toMatchObject({ text: "mine", basedOn: 9 });
    calls[1]?.answer(10);
    await settled();
    expect(session.snapshot()).toMatchObject({ state: "saved", savedEdits: 10 });
  });

  it("takes over what others saved only where nothing here is unsaved", async () => {
    const { calls, session } = begin();
    session.receive({ document: { text: "theirs" }, edits: 4 });
    expect(session.snapshot()).toMatchObject({ document: { text: "theirs" }, takenOver: 1 });
    session.receive({ document: { text: "older" }, edits: 2 });
    expect(session.snapshot().document.text).toBe("theirs");
    session.edit(write("mine"));
    await vi.advanceTimersByTimeAsync(QUIET);
    session.receive({ document: { text: "newer" }, edits: 8 });
    expect(session.snapshot().document.text).toBe("mine");
    calls[0]?.answer(5);
    await settled();
    expect(session.snapshot().document.text).toBe("mine");
  });

  it("saves nothing later that was left without saving", async () => {
    const { calls, session } = begin();
    session.edit(write("a"));
    await vi.advanceTimersByTimeAsync(QUIET);
    calls[0]?.fail(new Error("no connection"));
    await settled();
    expect(session.dirty).toBe(true);
    session.abandon();
    await session.flush();
    await vi.advanceTimersByTimeAsync(10 * QUIET);
    expect(session.dirty).toBe(false);
    expect(calls).toHaveLength(1);
  });

  it("undoes and does again, in steps as they were made, and saves both", async () => {
    const { calls, session } = begin();
    session.edit(write("o"));
    session.edit(write("one"));
    vi.advanceTimersByTime(2000);
    session.edit(write("one two"));
    session.undo();
    expect(session.snapshot()).toMatchObject({ document: { text: "one" }, canRedo: true });
    session.undo();
    expect(session.snapshot()).toMatchObject({ document: { text: "" }, canUndo: false });
    session.undo();
    session.redo();
    session.redo();
    expect(session.snapshot().document.text).toBe("one two");
    session.undo();
    session.edit(write("other"));
    expect(session.snapshot().canRedo).toBe(false);
    const count = calls.length;
    await vi.advanceTimersByTimeAsync(QUIET);
    calls[count - 1]?.answer(4);
    await settled();
    expect(calls[calls.length - 1]?.text).toBe("other");
  });

  it("tells its listeners, with a new snapshot for each change and the same one in between", () => {
    const { session } = begin();
    let told = 0;
    const off = session.subscribe(() => (told += 1));
    const before = session.snapshot();
    expect(session.snapshot()).toBe(before);
    session.edit(write("a"));
    expect(session.snapshot()).not.toBe(before);
    expect(told).toBe(1);
    off();
    session.edit(write("b"));
    expect(told).toBe(1);
  });
});
