import { screen, within } from "@testing-library/react";
import { expect, test, vi } from "vitest";
import { ApiError } from "../api/client";
import { show } from "../testing/show";
import { ConfirmDialog } from "./ConfirmDialog";

const refused = new ApiError(409, "Somebody replayed them just now.");

test("it is asked first; what goes wrong stands in the dialog, and it can be tried again", async () => {
  let works = false;
  const onConfirm = vi.fn(() => (works ? Promise.resolve() : Promise.reject(refused)));
  const onClose = vi.fn();
  const { user } = show(
    <ConfirmDialog
      title="Remove 2 submissions?"
      action="Remove"
      destroys
      {...{ onClose, onConfirm }}
    >
      The answers are gone for good.
    </ConfirmDialog>,
  );
  const dialog = within(screen.getByRole("dialog", { name: "Remove 2 submissions?" }));
  expect(dialog.getByText("The answers are gone for good.")).toBeDefined();
  expect(onConfirm).not.toHaveBeenCalled();
  await user.click(dialog.getByRole("button", { name: "Remove" }));
  expect((await dialog.findByRole("alert")).textContent).toContain("Somebody replayed them");
  works = true;
  await user.click(dialog.getByRole("button", { name: "Remove" }));
  await vi.waitFor(() => expect(dialog.queryByRole("alert")).toBeNull());
  expect(onConfirm).toHaveBeenCalledTimes(2);
  expect(onClose).not.toHaveBeenCalled();
  await user.click(dialog.getByRole("button", { name: "Cancel" }));
  expect(onClose).toHaveBeenCalledOnce();
});

test("while it is being done nothing is done twice, nor the other way", async () => {
  let over: () => void = () => undefined;
  const onConfirm = vi.fn(() => new Promise<void>((resolve) => (over = resolve)));
  const onAct = vi.fn(() => Promise.resolve());
  const { user } = show(
    <ConfirmDialog
      title="Take them off?"
      action="They asked"
      otherwise="Not now"
      instead={{ label: "They complained", onAct }}
      onClose={vi.fn()}
      onConfirm={onConfirm}
    >
      It is in force at once.
    </ConfirmDialog>,
  );
  const button = (name: string) => screen.getByRole<HTMLButtonElement>("button", { name });
  await user.click(button("They asked"));
  expect([button("They asked").disabled, button("They complained").disabled]).toEqual([true, true]);
  over();
  await vi.waitFor(() => expect(button("They complained").disabled).toBe(false));
  await user.click(button("They complained"));
  expect([onConfirm.mock.calls.length, onAct.mock.calls.length]).toEqual([1, 1]);
});
