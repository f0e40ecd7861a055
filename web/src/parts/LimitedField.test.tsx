import { cleanup, render, screen } from "@testing-library/react";
import userEvent from "@testing-library/user-event";
import { useState } from "react";
import { afterEach, expect, test } from "vitest";
import { LimitedField } from "./LimitedField";

afterEach(cleanup);

function Name() {
  const [name, setName] = useState("");
  return <LimitedField label="Name" most={5} value={name} onChange={setName} helperText="Short" />;
}

test("what is longer is cut, and that is said until it fits again", async () => {
  const user = userEvent.setup();
  render(<Name />);
  const box = screen.getByLabelText<HTMLInputElement>("Name");
  await user.type(box, "Moons");
  expect(screen.getByText("Short")).toBeTruthy();
  await user.type(box, "hine");
  expect(box.value).toBe("Moons");
  expect(screen.getByRole("status").textContent).toContain("At most 5 characters");
  await user.type(box, "{Backspace}");
  expect(screen.queryByRole("status")).toBeNull();
});
