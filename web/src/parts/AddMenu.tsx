import Button from "@mui/material/Button";
import Menu from "@mui/material/Menu";
import MenuItem from "@mui/material/MenuItem";
import { useState } from "react";
import { flushSync } from "react-dom";
import { focusOn } from "./focus/focus";

interface AddMenuProps<Kind extends string> {
  label: string;
  /** What can be added, with how it reads. */
  options: [Kind, string][];
  onAdd: (kind: Kind) => void;
  /** A "+" of 24 px, which has the label for its name. */
  small?: boolean;
}

const SMALL = { minWidth: 24, width: 24, height: 24, p: 0, lineHeight: 1 };

/** A button that opens a menu of what can be added. The focus goes to what is added, and comes
 * back to the button only where nothing was. */
export function AddMenu<Kind extends string>(props: AddMenuProps<Kind>) {
  const { label, options, onAdd, small } = props;
  const [anchor, setAnchor] = useState<HTMLElement | null>(null);
  return (
    <>
      <Button
        aria-haspopup="menu"
        {...(small && { "aria-label": label, title: label, sx: SMALL })}
        onClick={(event) => setAnchor(event.currentTarget)}
      >
        {small ? "+" : label}
      </Button>
      <Menu
        open={Boolean(anchor)}
        anchorEl={anchor}
        disableRestoreFocus
        onClose={() => {
          setAnchor(null);
          focusOn(() => anchor);
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
