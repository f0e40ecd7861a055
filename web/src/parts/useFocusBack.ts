import { useEffect, useRef } from "react";

/** Where a form closes and the focus would be nowhere, it goes to the button that opens it again. */
export function useFocusBack<Root extends HTMLElement>(open: boolean) {
  const root = useRef<Root>(null);
  const was = useRef(open);
  useEffect(() => {
    const closed = was.current && !open;
    was.current = open;
    if (closed && document.activeElement === document.body) {
      root.current?.querySelector<HTMLElement>("[data-opens]")?.focus();
    }
  }, [open]);
  return root;
}
