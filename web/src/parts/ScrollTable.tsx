import Box from "@mui/material/Box";
import Table, { type TableProps } from "@mui/material/Table";
import { useEffect, useRef, useState } from "react";

interface ScrollTableProps extends TableProps {
  /** It stands on the paper itself, not in a band: white, with room at its sides. */
  onPaper?: boolean;
}

/** A table that scrolls within itself where it is wider than the page, which never does. */
export function ScrollTable({ onPaper = false, ...props }: ScrollTableProps) {
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
    <Box
      ref={box}
      tabIndex={scrolls ? 0 : undefined}
      sx={{ overflowX: "auto", ...(onPaper && PAPER) }}
    >
      <Table {...props} />
    </Box>
  );
}

const PAPER = {
  mt: 1.5,
  bgcolor: "background.paper",
  "& th:first-of-type, & td:first-of-type": { pl: 1.5 },
};
