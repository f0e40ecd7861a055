import { useEffect, useRef } from "react";
import { firstBoxIn, focusOn, isNowhere, isUnderWay, stopsIn } from "./focus";

/** For what is read closed and edited open: when it opens, the focus goes to its first box; when it
 * closes and the focus would be nowhere, to the button that opens it again (`data-opens`). The ref is for
 * what it stands in, open and closed. */
export function useOpens<Root extends HTMLElement>(open: boolean, added?: "opens when added") {
  const root = useRef<Root>(null);
  const was = useRef(added ? false : open);
  useEffect(() => {
    if (was.current === open) return;
    was.current = open;
    const form = root.current;
    if (open) {
      if (form && !form.contains(document.activeElement)) focusOn(() => firstBoxIn(form));
    } else if (isNowhere() && !isUnderWay()) {
      focusOn(() => {
        const opener = root.current?.querySelector("[data-opens]");
        return opener && stopsIn(opener)[0];
      });
    }
  }, [open]);
  return root;
}
