import type { Active, Over } from "@dnd-kit/core";
import { expect, test } from "vitest";
import { announced } from "./announced";

const active = { id: "s1" } as Active;
const over = { id: "s2" } as Over;

test("names and places are said, and never an id", () => {
  const said = announced(
    (id) => `wait ${id === "s1" ? "2 days" : "?"}`,
    (id) => (id === "s1" ? "2 of 5 in A" : "1 of 3 in B"),
  );
  expect([
    said.onDragStart({ active }),
    said.onDragOver({ active, over }),
    said.onDragOver({ active, over: null }),
    said.onDragEnd({ active, over }),
    said.onDragEnd({ active, over: null }),
    said.onDragCancel({ active, over: null }),
  ]).toEqual([
    "Picked up wait 2 days, at 2 of 5 in A.",
    "It would go to 1 of 3 in B.",
    "It would go back.",
    "It is at 1 of 3 in B now.",
    "It is back where it was.",
    "It is back where it was.",
  ]);
});
