import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Menu from "@mui/material/Menu";
import MenuItem from "@mui/material/MenuItem";
import Stack from "@mui/material/Stack";
import { useState } from "react";
import { focusOn } from "./focus/focus";

interface LineToolsProps {
  /** What the line is, for the names of the buttons. */
  name: string;
  onEdit?: () => void;
  onUp?: () => void;
  onDown?: () => void;
  onDuplicate?: () => void;
  onRemove?: () => void;
}

/** What can be done with a line: edit it; by its menu move it, duplicate it, remove it. */
export function LineTools({ name, onEdit, onUp, onDown, onDuplicate, onRemove }: LineToolsProps) {
  const [anchor, setAnchor] = useState<HTMLElement | null>(null);
  /** Does it once the menu is closed, which gives the focus back to its button, if that is still there. */
  const done = (act: () => void) => () => {
    setAnchor(null);
    act();
    focusOn(() => (anchor?.isConnected ? anchor : null));
  };
  const moves = onUp !== undefined || onDown !== undefined;
  return (
    <Stack direction="row" sx={{ ml: "auto !important", my: "-2px !important", flexShrink: 0 }}>
      {onEdit && (
        <Button data-opens onClick={onEdit} aria-label={`Edit ${name}`}>
          Edit
        </Button>
      )}
      {moves || onDuplicate || onRemove ? (
        <Button
          color="inherit"
          aria-haspopup="menu"
          aria-expanded={anchor !== null}
          aria-label={`More for ${name}`}
          onClick={(event) => setAnchor(event.currentTarget)}
          sx={{ minWidth: 28, px: 0.5 }}
        >
          ⋯
        </Button>
      ) : (
        // So that “Edit” stands where it does on the lines around.
        <Box sx={{ width: 28 }} />
      )}
      {anchor && (
        <Menu open anchorEl={anchor} disableRestoreFocus onClose={done(() => undefined)}>
          {moves && (
            <MenuItem disabled={!onUp} onClick={onUp && done(onUp)}>
              Move up
            </MenuItem>
          )}
          {moves && (
            <MenuItem disabled={!onDown} onClick={onDown && done(onDown)}>
              Move down
            </MenuItem>
          )}
          {onDuplicate && <MenuItem onClick={done(onDuplicate)}>Duplicate</MenuItem>}
          {onRemove && <MenuItem onClick={done(onRemove)}>Remove</MenuItem>}
        </Menu>
      )}
    </Stack>
  );
}
