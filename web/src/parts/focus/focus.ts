/** What the Tab key comes to, in order. */
const STOPS = [
  "a[href]",
  "button:not([disabled])",
  "input:not([disabled]):not([type=hidden])",
  "textarea:not([disabled])",
  "select:not([disabled])",
  "[contenteditable=true]",
  "[tabindex]",
].join();

/** What the focus can go to within an element, itself included, in order. */
export function stopsIn(element: Element): HTMLElement[] {
  const all = [element, ...element.querySelectorAll(STOPS)];
  return all.filter(
    (one): one is HTMLElement =>
      one instanceof HTMLElement &&
      one.matches(STOPS) &&
      one.tabIndex >= 0 &&
      one.getAttribute("aria-disabled") !== "true" &&
      !one.closest("[aria-hidden=true], [inert]"),
  );
}

/** The first box to write or choose in, else whatever the focus can go to. */
export function firstBoxIn(element: Element): HTMLElement | undefined {
  const stops = stopsIn(element);
  return (
    stops.find((one) => one.matches("input, textarea, select, [role=combobox], [role=textbox]")) ??
    stops[0]
  );
}

/** How long something may take to be there, in milliseconds. */
const PATIENCE = 2000;
/** What a person does; then the focus is theirs. */
const ACTS = ["keydown", "pointerdown"] as const;

let pending: (() => void) | undefined;

/** Whether the focus is on its way to something that is not there yet. */
export const isUnderWay = () => pending !== undefined;

/** The focus goes there as soon as it is there, and again should it be shown anew within two seconds,
 * unless the person does something before. */
export function focusOn(find: () => HTMLElement | null | undefined): void {
  pending?.();
  let reached = false;
  const go = () => {
    const there = find();
    if (there && there !== document.activeElement) {
      // Nothing moves under the hand where it can be seen as it is.
      const { top, bottom } = there.getBoundingClientRect();
      there.focus({ preventScroll: top < window.innerHeight && bottom > 0 });
    }
    reached ||= there !== undefined && there === document.activeElement;
  };
  const watcher = new MutationObserver(() => {
    if (!reached || isNowhere()) go();
  });
  const end = () => {
    watcher.disconnect();
    window.clearTimeout(timer);
    for (const act of ACTS) window.removeEventListener(act, end, true);
    pending = undefined;
  };
  const timer = window.setTimeout(end, PATIENCE);
  pending = end;
  // After the act that asks for it, which may still give the focus to something else.
  window.setTimeout(() => {
    if (pending !== end) return;
    for (const act of ACTS) window.addEventListener(act, end, true);
    // A sheet that is not seen yet takes no focus; that it is seen is a change of its style.
    const attributeFilter = ["class", "style", "hidden", "disabled"];
    watcher.observe(document.body, { childList: true, subtree: true, attributeFilter });
    go();
  });
}

/** The focus goes to what has this id, or the first of these that is there: to its first box, with `into`. */
export function focusOnId(id: string | string[], into?: "into"): void {
  focusOn(() => {
    const there = [id]
      .flat()
      .map((one) => document.getElementById(one))
      .find(Boolean);
    return there && (into ? firstBoxIn(there) : stopsIn(there)[0]);
  });
}

/** Whether nothing has the focus. */
export function isNowhere(): boolean {
  const active = document.activeElement;
  return !active || active === document.body || !active.isConnected;
}
