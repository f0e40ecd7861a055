import Button from "@mui/material/Button";
import Menu from "@mui/material/Menu";
import { useState, type ReactNode } from "react";

interface MoreMenuProps {
  /** What it is about, where several stand on one page. */
  of?: string;
  children: (close: () => void) => ReactNode;
}

/** What is done now and then, behind one button; an item closes the menu with `close`. */
export function MoreMenu({ of, children }: MoreMenuProps) {
  const [anchor, setAnchor] = useState<HTMLElement | null>(null);
  const close = () => setAnchor(null);
  return (
    <>
      <Button
        aria-label={of && `More: ${of}`}
        aria-haspopup="menu"
        aria-expanded={anchor !== null}
        onClick={(event) => setAnchor(event.currentTarget)}
      >
        More
      </Button>
      <Menu anchorEl={anchor} open={anchor !== null} onClose={close}>
        {children(close)}
      </Menu>
    </>
  );
}
