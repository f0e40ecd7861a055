import { act, fireEvent, render, screen } from "@testing-library/react";
import { useState } from "react";
import { afterEach, beforeEach, expect, test } from "vitest";
import { focusOn, focusOnId } from "./focus";
import { keepFocus } from "./keeper";

let end: () => void;
beforeEach(() => {
  end = keepFocus();
});
afterEach(() => end());

const soon = () => act(() => new Promise((done) => setTimeout(done, 120)));
const button = (name: string) => screen.getByRole("button", { name });

function Lines() {
  const [lines, setLines] = useState(["a", "b", "c", "d"]);
  return (
    <main>
      <button>Above</button>
      <ul>
        {lines.map((one) => (
          <li key={one}>
            <button onClick={() => setLines(lines.filter((line) => line !== one))}>
              Remove {one}
            </button>
          </li>
        ))}
      </ul>
      <button>Below</button>
    </main>
  );
}

test("what is removed leaves the focus to what took its place, to the very last", async () => {
  render(<Lines />);
  const order = ["b", "c", "d", "a"];
  button("Remove b").focus();
  for (const [index, line] of order.entries()) {
    expect(document.activeElement).toBe(button(`Remove ${line}`));
    fireEvent.click(button(`Remove ${line}`));
    await soon();
    expect(screen.queryByRole("button", { name: `Remove ${line}` })).toBeNull();
    if (index === order.length - 1) expect(document.activeElement).toBe(button("Below"));
  }
});

function Saves() {
  const [busy, setBusy] = useState(false);
  return (
    <main>
      <input aria-label="Name" />
      <button disabled={busy} onClick={() => setBusy(true)}>
        Save
      </button>
      <button>Cancel</button>
    </main>
  );
}

test("a button that may not be pressed any more leaves it to the one beside it", async () => {
  render(<Saves />);
  button("Save").focus();
  // A browser takes the focus from what is disabled; this document does not.
  button("Save").blur();
  fireEvent.click(button("Save"));
  await soon();
  expect(document.activeElement).toBe(button("Cancel"));
});

test("whoever presses on an empty place has the focus nowhere, and it stays so", async () => {
  render(<Lines />);
  button("Above").focus();
  button("Above").blur();
  document.body.append(document.createElement("p"));
  await soon();
  expect(document.activeElement).toBe(document.body);
});

function Later() {
  const [shown, setShown] = useState(0);
  return (
    <main>
      <button
        onClick={() => {
          focusOnId("late", "into");
          setTimeout(() => setShown(1), 60);
          setTimeout(() => setShown(2), 120);
        }}
      >
        Open
      </button>
      {shown > 0 && (
        <div id="late" key={shown}>
          <button>Help</button>
          <input aria-label={`Subject ${shown}`} />
        </div>
      )}
    </main>
  );
}

test("the focus waits for what is not there yet, and follows what is shown anew", async () => {
  render(<Later />);
  button("Open").focus();
  fireEvent.click(button("Open"));
  button("Open").blur();
  // The first is there for a moment only.
  await screen.findByRole("textbox", { name: "Subject 2" });
  await soon();
  expect(document.activeElement).toBe(screen.getByRole("textbox"));
});

test("the focus belongs to whoever acts meanwhile", async () => {
  render(<Lines />);
  const late = document.createElement("button");
  focusOn(() => document.querySelector<HTMLElement>("#never"));
  await soon();
  fireEvent.pointerDown(button("Above"));
  button("Above").focus();
  late.id = "never";
  document.body.append(late);
  await soon();
  expect(document.activeElement).toBe(button("Above"));
  late.remove();
});
