import { fireEvent } from "@testing-library/react";

/** All that is to be read on the screen, and stands in boxes or is ticked. */
export function shownText(): string {
  const boxes = [...document.querySelectorAll("input")].map((one) =>
    one.type === "checkbox" || one.type === "radio" ? String(one.checked) : one.value,
  );
  const pressed = [...document.querySelectorAll("[aria-pressed]")].map((one) =>
    one.getAttribute("aria-pressed"),
  );
  return [document.body.textContent, ...boxes, ...pressed].join(" ");
}

const BOXES = "input:not([aria-hidden]):not([disabled]):not([role=combobox]):not([type=hidden])";

/** Uses every control that is on the screen, each once; what is shown stays as it is meanwhile, where the
 * form is given the same value again. */
export function operateAll(): void {
  for (const box of document.querySelectorAll<HTMLInputElement>(BOXES)) {
    if (box.type === "checkbox" || box.type === "radio") fireEvent.click(box);
    else fireEvent.change(box, { target: { value: "9" } });
  }
  for (const box of document.querySelectorAll("textarea:not([aria-hidden]):not([disabled])"))
    fireEvent.change(box, { target: { value: "Nine" } });
  for (const part of document.querySelectorAll(
    "[role=spinbutton][aria-label=Day], [role=spinbutton][aria-label=Hours]",
  )) {
    fireEvent.focus(part);
    fireEvent.keyDown(part, { key: "ArrowUp" });
  }
  for (const toggle of document.querySelectorAll("button[aria-pressed]")) fireEvent.click(toggle);
  for (const select of document.querySelectorAll("div[role=combobox]")) {
    fireEvent.mouseDown(select);
    chooseAnother();
  }
  for (const box of document.querySelectorAll<HTMLInputElement>("input[role=combobox]")) {
    fireEvent.mouseDown(box);
    chooseAnother();
  }
}

function chooseAnother(): void {
  const list = [...document.querySelectorAll("[role=listbox]")].at(-1);
  const other = list?.querySelector("[role=option]:not([aria-selected=true])");
  if (other) fireEvent.click(other);
}

/** The parts in which two values differ. */
export function changedParts<Value extends object>(before: Value, after: Value): string[] {
  return Object.keys({ ...before, ...after }).filter(
    (key) =>
      JSON.stringify(before[key as keyof Value]) !== JSON.stringify(after[key as keyof Value]),
  );
}
