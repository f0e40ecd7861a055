import { onlineManager } from "@tanstack/react-query";
import { act, screen } from "@testing-library/react";
import { afterEach, expect, test, vi } from "vitest";
import { show } from "../testing/show";
import { useAttempt } from "./useAttempt";

function Deed({ does }: { does: () => Promise<unknown> }) {
  const { attempt, failed, dismiss } = useAttempt();
  return (
    <>
      <button onClick={() => void attempt(does)}>Do it</button>
      <output>{failed?.message}</output>
      <button onClick={dismiss}>Dismiss</button>
    </>
  );
}

afterEach(() => {
  onlineManager.setOnline(true);
});

test("what went wrong stays until it is dismissed or works", async () => {
  let works = false;
  const { user } = show(
    <Deed does={() => (works ? Promise.resolve() : Promise.reject(new Error("No.")))} />,
  );
  await user.click(screen.getByRole("button", { name: "Do it" }));
  expect(await screen.findByText("No.")).toBeDefined();
  await user.click(screen.getByRole("button", { name: "Dismiss" }));
  expect(screen.queryByText("No.")).toBeNull();
  await user.click(screen.getByRole("button", { name: "Do it" }));
  expect(await screen.findByText("No.")).toBeDefined();
  works = true;
  await user.click(screen.getByRole("button", { name: "Do it" }));
  await vi.waitFor(() => expect(screen.queryByText("No.")).toBeNull());
});

test("without a network it is tried now, and never later", async () => {
  const does = vi.fn(() => Promise.reject(new Error("The server does not answer.")));
  const { user } = show(<Deed does={does} />);
  act(() => onlineManager.setOnline(false));
  await user.click(screen.getByRole("button", { name: "Do it" }));
  expect(await screen.findByText("The server does not answer.")).toBeDefined();
  act(() => onlineManager.setOnline(true));
  await new Promise((resolve) => setTimeout(resolve, 50));
  expect(does).toHaveBeenCalledOnce();
});
