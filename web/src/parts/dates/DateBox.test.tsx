import { render, screen, waitFor } from "@testing-library/react";
import userEvent from "@testing-library/user-event";
import { useState } from "react";
import { afterEach, expect, test } from "vitest";
import { setFormats } from "../formats";
import { DateBox } from "./DateBox";
import type { DateBoxProps } from "./dateBoxProps";

function Box(props: Pick<DateBoxProps, "kind"> & { begins: string }) {
  const [value, setValue] = useState(() => props.begins);
  return (
    <>
      <DateBox kind={props.kind} label="When" value={value} onChange={setValue} />
      <output>{value || "none"}</output>
    </>
  );
}

const shown = () => screen.getByRole("status").textContent;
const part = (name: string) => screen.findByRole("spinbutton", { name });

afterEach(() => setFormats({ dates: "day", clock: 24, numbers: "comma" }));

test("a date is typed in the order of the member, and is none until it is whole", async () => {
  const user = userEvent.setup();
  render(<Box kind="date" begins="" />);
  await part("Day");
  await user.tab();
  await user.keyboard("24");
  expect(shown()).toBe("none");
  await user.keyboard("nov2026");
  await waitFor(() => expect(shown()).toBe("2026-11-24"));
});

test("month first, and a clock of twelve hours", async () => {
  setFormats({ dates: "month", clock: 12, numbers: "comma" });
  const user = userEvent.setup();
  render(<Box kind="moment" begins="" />);
  await user.click(await part("Month"));
  await user.keyboard("11242026");
  await user.keyboard("0230p");
  expect(shown()).toBe("2026-11-24T14:30");
});

test("a time as it is stored, changed by one part", async () => {
  const user = userEvent.setup();
  render(<Box kind="time" begins="09:00" />);
  await user.click(await part("Minutes"));
  await user.keyboard("45");
  expect(shown()).toBe("09:45");
});
