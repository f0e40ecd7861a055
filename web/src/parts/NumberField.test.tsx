import { screen } from "@testing-library/react";
import { expect, test, vi } from "vitest";
import { show } from "../testing/show";
import { NumberField } from "./NumberField";

test("what is typed stands in the box; the value follows where it is one within the bounds", async () => {
  const onChange = vi.fn();
  const { user } = show(
    <NumberField label="Days" value={3} min={1} max={30} onChange={onChange} />,
  );
  const box = screen.getByRole<HTMLInputElement>("textbox", { name: "Days" });
  await user.clear(box);
  expect(box.value).toBe("");
  expect(onChange).not.toHaveBeenCalled();
  await user.type(box, "31");
  expect(onChange.mock.calls).toEqual([[3]]);
  expect(box.getAttribute("aria-invalid")).toBe("true");
  await user.tab();
  expect(box.value).toBe("3");
});
