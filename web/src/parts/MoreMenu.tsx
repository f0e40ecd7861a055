import Button from "@mui/material/Button";
import Menu from "@mui/material/Menu";
import { useState, type ReactNode } from "react";

/** What is done now and then, behind one button; an item closes the menu with `close`. */
export function MoreMenu({ children }: { children: (close: () => void) => ReactNode }) {
  const [anchor, setAnchor] = useState<HTMLElement | null>(null);
  const close = () => setAnchor(null);
  return (
    <>
      <Button
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
