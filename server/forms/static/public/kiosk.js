// A form on a screen that visitors share: half a visitor's details do not stay for the next.
"use strict";
{
  const IDLE = 60_000;
  let timer;
  const again = () => {
    clearTimeout(timer);
    timer = setTimeout(() => location.assign(location.pathname + location.search), IDLE);
  };
  for (const event of ["input", "pointerdown", "keydown"]) addEventListener(event, again);
  addEventListener("pageshow", (event) => {
    // Going back shows the page as it was left, unless it is made anew.
    if (event.persisted) location.reload();
  });
  for (const form of document.forms) if (!form.querySelector("[aria-invalid]")) form.reset();
  again();
}
