import Button from "@mui/material/Button";
import Menu from "@mui/material/Menu";
import MenuItem from "@mui/material/MenuItem";
import { useState } from "react";
import { flushSync } from "react-dom";

interface AddMenuProps<Kind extends string> {
  label: string;
  /** What can be added, with how it reads. */
  options: [Kind, string][];
  onAdd: (kind: Kind) => void;
}

/** A button that opens a menu of what can be added. The focus goes to what is added, and comes
 * back to the button only where nothing was. */
export function AddMenu<Kind extends string>({ label, options, onAdd }: AddMenuProps<Kind>) {
  const [anchor, setAnchor] = useState<HTMLElement | null>(null);
  return (
    <>
      <Button aria-haspopup="menu" onClick={(event) => setAnchor(event.currentTarget)}>
        {label}
      </Button>
      <Menu
        open={Boolean(anchor)}
        anchorEl={anchor}
        disableRestoreFocus
        onClose={() => {
          anchor?.focus();
          setAnchor(null);
        }}
      >
        {options.map(([kind, word]) => (
          <MenuItem
            key={kind}
            onClick={() => {
              // The menu lets the focus go before what is added takes it.
              flushSync(() => setAnchor(null));
              onAdd(kind);
            }}
          >
            {word}
          </MenuItem>
        ))}
      </Menu>
    </>
  );
}
