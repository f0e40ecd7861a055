import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Dialog from "@mui/material/Dialog";
import DialogActions from "@mui/material/DialogActions";
import DialogContent from "@mui/material/DialogContent";
import DialogTitle from "@mui/material/DialogTitle";
import Typography from "@mui/material/Typography";
import { Fragment, useEffect, useState } from "react";
import { useLocation } from "react-router";

/** Keys, and what each does. */
type Keys = [string, string][];

const EVERYWHERE: Keys = [
  ["?", "This list"],
  ["Tab, Shift+Tab", "To the next thing that can be pressed or filled in, and back"],
  ["Enter, Space", "Press it"],
  ["Escape", "Close what is open: a dialog, a menu, a list"],
];
const ON_A_SHEET: Keys = [
  ["Ctrl+Z", "Undo, also within a text"],
  ["Ctrl+Shift+Z, Ctrl+Y", "Redo"],
];
const WHAT_IS_DRAGGED: Keys = [
  ["Space on a handle", "Pick up a line, or put it down"],
  ["Arrows", "Move it; Escape puts it back"],
];

/** By the address of the screen: what can be done there besides. */
const PLACES: [RegExp, string, Keys][] = [
  [
    /\/sequences\/(?!ahead$)[^/]+$/,
    "In a sequence",
    [
      ...ON_A_SHEET,
      ...WHAT_IS_DRAGGED,
      ["Escape on the lanes", "Close the panel, and go back to its step"],
    ],
  ],
  [/\/sources\/[^/]+$/, "On a source’s sheet", [...ON_A_SHEET, ...WHAT_IS_DRAGGED]],
  [
    /\/messages\/(?!(style|pictures|delivery)$)[^/]+$/,
    "In a message",
    [
      ...ON_A_SHEET,
      ...WHAT_IS_DRAGGED,
      ["Ctrl+B, Ctrl+I, Ctrl+U", "Strong, emphasis, underlined"],
      ["Shift+Enter", "A new line in the same paragraph"],
    ],
  ],
  [/\/audiences\/[^/]+$/, "On an audience’s sheet", ON_A_SHEET],
];

/** Whether a key is written into something. */
const isWriting = (target: EventTarget | null) =>
  target instanceof HTMLElement &&
  (target.isContentEditable || target.matches("input, textarea, select"));

/** "?" lists the keys of where one is. */
export function Keys() {
  const { pathname } = useLocation();
  const [open, setOpen] = useState(false);
  useEffect(() => {
    const asked = (event: KeyboardEvent) => {
      if (event.key !== "?" || event.defaultPrevented || isWriting(event.target)) return;
      if (event.ctrlKey || event.metaKey || event.altKey) return;
      setOpen(true);
    };
    window.addEventListener("keydown", asked);
    return () => window.removeEventListener("keydown", asked);
  }, []);
  const here = PLACES.find(([at]) => at.test(pathname));
  return (
    <Dialog open={open} onClose={() => setOpen(false)} fullWidth maxWidth="sm">
      <DialogTitle>Keys</DialogTitle>
      <DialogContent>
        {here && <KeyTable title={here[1]} keys={here[2]} />}
        <KeyTable title="Everywhere" keys={EVERYWHERE} />
        <Typography variant="caption" component="div" color="textSecondary">
          On a Mac, ⌘ takes the place of Ctrl.
        </Typography>
      </DialogContent>
      <DialogActions>
        <Button variant="contained" onClick={() => setOpen(false)}>
          Close
        </Button>
      </DialogActions>
    </Dialog>
  );
}

function KeyTable({ title, keys }: { title: string; keys: Keys }) {
  return (
    <Box sx={{ mb: 2 }}>
      <Typography variant="body2" component="h3" sx={{ fontWeight: 600, mb: 0.5 }}>
        {title}
      </Typography>
      <Box
        component="dl"
        sx={{
          display: "grid",
          gridTemplateColumns: { xs: "1fr", sm: "180px 1fr" },
          columnGap: 2,
          rowGap: 0.5,
          m: 0,
        }}
      >
        {keys.map(([key, does]) => (
          <Fragment key={key}>
            <Typography component="dt" variant="body2" sx={{ fontFamily: "monospace" }}>
              {key}
            </Typography>
            <Typography component="dd" variant="body2" sx={{ m: 0 }}>
              {does}
            </Typography>
          </Fragment>
        ))}
      </Box>
    </Box>
  );
}
