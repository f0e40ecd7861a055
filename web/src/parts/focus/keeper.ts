import { isNowhere, isUnderWay, stopsIn } from "./focus";

/** Where something had the focus: what it stood in, and what stood beside it there. */
interface Place {
  element: HTMLElement;
  around: { parent: Element; next: Element[]; before: Element[] }[];
}

/** How many places are remembered. */
const MOST = 12;
/** How many neighbours, on either side. */
const NEIGHBOURS = 4;

/** Where what had the focus goes away (a line removed, a menu closed whose button is gone, a button that
 * may not be pressed any more), the focus goes to what took its place: else to what came before it, else
 * to where the person was before. One mechanism for the whole application; what opens asks for the focus
 * by `focusOn`. Returns what ends it. */
export function keepFocus(): () => void {
  let places: Place[] = [];
  let timer = 0;
  const remember = ({ target }: FocusEvent) => {
    if (!(target instanceof HTMLElement) || target === document.body) return;
    const rest = places.filter((one) => one.element !== target);
    places = [placeOf(target), ...rest].slice(0, MOST);
  };
  const left = () => {
    const lost = places[0]?.element;
    if (!lost || isUnderWay() || !isNowhere()) return;
    if (lost.isConnected && !lost.matches("[disabled]")) return;
    for (const place of places) {
      const there = placeAfter(place);
      if (!there) continue;
      there.focus();
      if (document.activeElement === there) return;
    }
  };
  const look = () => {
    window.clearTimeout(timer);
    // Once what follows from the change is there too.
    timer = window.setTimeout(left, 50);
  };
  const watcher = new MutationObserver(look);
  watcher.observe(document.body, {
    childList: true,
    subtree: true,
    attributes: true,
    attributeFilter: ["disabled"],
  });
  document.addEventListener("focusin", remember);
  return () => {
    watcher.disconnect();
    window.clearTimeout(timer);
    document.removeEventListener("focusin", remember);
  };
}

function placeOf(element: HTMLElement): Place {
  const around: Place["around"] = [];
  for (let at: Element = element; at.parentElement && at !== document.body; at = at.parentElement)
    around.push({
      parent: at.parentElement,
      next: neighbours(at, "nextElementSibling"),
      before: neighbours(at, "previousElementSibling"),
    });
  return { element, around };
}

function neighbours(from: Element, way: "nextElementSibling" | "previousElementSibling") {
  const found: Element[] = [];
  for (let one = from[way]; one && found.length < NEIGHBOURS; one = one[way]) found.push(one);
  return found;
}

/** Where one goes on after a place is gone; nothing where all around it is gone too. */
function placeAfter({ element, around }: Place): HTMLElement | undefined {
  if (element.isConnected && stopsIn(element)[0] === element) return element;
  for (const { parent, next, before } of around) {
    if (!parent.isConnected || parent === document.body) continue;
    const beside = [...next, ...before].filter((one) => one.isConnected);
    const there = beside.flatMap((one) => stopsIn(one))[0] ?? stopsIn(parent)[0];
    if (there) return there;
    if (parent.matches("main, [role=dialog]")) return undefined;
  }
  return undefined;
}
