import { fireEvent, render, screen } from "@testing-library/react";
import { MemoryRouter } from "react-router";
import { expect, test } from "vitest";
import { Keys } from "./Keys";

const at = (path: string) =>
  render(
    <MemoryRouter initialEntries={[path]}>
      <input aria-label="Name" />
      <Keys />
    </MemoryRouter>,
  );

test("a question mark lists the keys of where one is", () => {
  at("/w/larkmoor/sequences/01a2");
  fireEvent.keyDown(document.body, { key: "?" });
  expect(screen.getByRole("heading", { name: "In a sequence" })).toBeTruthy();
  expect(screen.getByText("Ctrl+Z")).toBeTruthy();
});

test("elsewhere only what works everywhere", () => {
  at("/w/larkmoor/sequences/ahead");
  fireEvent.keyDown(document.body, { key: "?" });
  expect(screen.getByRole("heading", { name: "Everywhere" })).toBeTruthy();
  expect(screen.queryByText("Ctrl+Z")).toBeNull();
});

test("what is written into a box stays there", () => {
  at("/w/larkmoor/people");
  fireEvent.keyDown(screen.getByLabelText("Name"), { key: "?" });
  expect(screen.queryByRole("dialog")).toBeNull();
});
