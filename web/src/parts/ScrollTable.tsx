import Box from "@mui/material/Box";
import Table, { type TableProps } from "@mui/material/Table";
import { useEffect, useRef, useState } from "react";

/** A table that scrolls within itself where it is wider than the page, which never does. */
export function ScrollTable(props: TableProps) {
  const box = useRef<HTMLDivElement>(null);
  const [scrolls, setScrolls] = useState(false);
  useEffect(() => {
    const element = box.current;
    if (!element) return;
    const look = () => setScrolls(element.scrollWidth > element.clientWidth);
    const observer = new ResizeObserver(look);
    observer.observe(element);
    if (element.firstElementChild) observer.observe(element.firstElementChild);
    return () => observer.disconnect();
  }, []);
  // What scrolls has to be reached by the keyboard, even where nothing in it can be.
  return (
    <Box ref={box} tabIndex={scrolls ? 0 : undefined} sx={{ overflowX: "auto" }}>
      <Table {...props} />
    </Box>
  );
}
