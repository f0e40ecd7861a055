import { screen, within } from "@testing-library/react";
import { expect, test, vi } from "vitest";
import { show } from "../testing/show";
import { TurnOn } from "./TurnOn";

const finding = (stops: boolean) => ({
  code: "x",
  place: "read_as",
  sentence: "No question is mapped.",
  fix: "Map one.",
  stops,
});

test("what stops is said, with the way there, and nothing can be turned on", async () => {
  const onSee = vi.fn();
  const onTurnOn = vi.fn();
  const { user } = show(
    <TurnOn
      again={false}
      findings={[finding(true)]}
      disabled={false}
      onSee={onSee}
      onTurnOn={onTurnOn}
    />,
  );
  await user.click(screen.getByRole("button", { name: "Turn on" }));
  const dialog = within(screen.getByRole("dialog"));
  expect(dialog.getByText("1 problem to fix first:")).toBeDefined();
  expect(dialog.getByRole<HTMLButtonElement>("button", { name: "Turn on" }).disabled).toBe(true);
  await user.click(dialog.getByRole("button", { name: "Go there" }));
  expect(onSee).toHaveBeenCalledOnce();
  expect(onTurnOn).not.toHaveBeenCalled();
});

test("changes are counted and listed; where it fails the note stays", async () => {
  let works = false;
  const onTurnOn = vi.fn(() => Promise.resolve(works));
  const changes = ["rule 1: on", "rule 2: off"];
  const { user } = show(
    <TurnOn
      again
      findings={[finding(false)]}
      disabled={false}
      changes={changes}
      onTurnOn={onTurnOn}
    />,
  );
  await user.click(screen.getByRole("button", { name: "Turn on 2 changes" }));
  const dialog = within(screen.getByRole("dialog"));
  for (const one of [...changes, "No question is mapped."]) {
    expect(dialog.getByText(one)).toBeDefined();
  }
  await user.type(dialog.getByLabelText("Note for the history"), "Two rules");
  await user.click(dialog.getByRole("button", { name: "Turn on 2 changes" }));
  expect((await dialog.findByRole("alert")).textContent).toContain("It was not turned on.");
  works = true;
  await user.click(dialog.getByRole("button", { name: "Turn on 2 changes" }));
  expect(onTurnOn).toHaveBeenLastCalledWith("Two rules");
  await vi.waitFor(() => expect(screen.queryByRole("dialog")).toBeNull());
});
