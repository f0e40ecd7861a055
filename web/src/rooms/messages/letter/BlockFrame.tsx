import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Menu from "@mui/material/Menu";
import MenuItem from "@mui/material/MenuItem";
import Typography from "@mui/material/Typography";
import { useEffect, useRef, useState, type ReactNode } from "react";
import { focusOn } from "../../../parts/focus/focus";
import { nameOf, type Block, type Kind } from "./blocks";
import { useLetter } from "./LetterContext";
import { OnlyFor } from "./OnlyFor";

interface BlockFrameProps {
  block: Block;
  number: number;
  kinds: [Kind, string][];
  onChange: (block: Block) => void;
  onAdd: (kind: Kind) => void;
  onUp: (() => void) | undefined;
  onDown: (() => void) | undefined;
  onDuplicate: () => void;
  onRemove: () => void;
  children: ReactNode;
}

/** A block in its place: pressed, it opens; its menu moves, copies and removes it. */
export function BlockFrame(props: BlockFrameProps) {
  const { block, number, kinds, onChange, onAdd, onUp, onDown, onDuplicate, onRemove } = props;
  const { open, setOpen, words, readOnly } = useLetter();
  const [anchor, setAnchor] = useState<HTMLElement | null>(null);
  const [limiting, setLimiting] = useState(false);
  const root = useRef<HTMLDivElement>(null);
  const name = nameOf(block.kind);
  const isOpen = open === block.id;
  useEffect(() => {
    // A new text is written at once.
    const frame = root.current;
    if (isOpen && frame && !frame.contains(document.activeElement)) {
      focusOn(() => frame.querySelector<HTMLElement>("input, [role=textbox]"));
    }
    // Only when it opens.
  }, [isOpen]);
  const item = (word: string, act: (() => void) | undefined) => (
    <MenuItem
      disabled={!act}
      onClick={() => {
        setAnchor(null);
        act?.();
      }}
    >
      {word}
    </MenuItem>
  );
  return (
    <Box
      ref={root}
      id={`block-${block.id}`}
      role="group"
      aria-label={`${name} ${number}`}
      onClick={(event) => {
        if (!readOnly && !isOpen) {
          event.stopPropagation();
          setOpen(block.id);
        }
      }}
      sx={{
        position: "relative",
        py: 1,
        pl: 1.5,
        pr: 4.5,
        ml: -1.5,
        mr: -4.5,
        scrollMarginTop: 120,
        cursor: readOnly || isOpen ? "auto" : "pointer",
        borderLeft: "3px solid transparent",
        ...(isOpen && { borderColor: "#1D5B4F", bgcolor: "#FBFAF6" }),
        "&:hover > .acts, &:focus-within > .acts": { opacity: 1 },
        "& > .acts": { "@media (hover: hover)": { opacity: isOpen ? 1 : 0 } },
      }}
    >
      {block.only && (
        <Typography variant="caption" component="div" sx={{ color: "#3D5A80", mb: 0.5 }}>
          Only for: {words[block.id] ?? "some people"}
        </Typography>
      )}
      {props.children}
      {!readOnly && (
        <Box className="acts" sx={{ position: "absolute", right: 2, top: 4 }}>
          <Button
            aria-haspopup="menu"
            aria-label={`Actions of ${name} ${number}`}
            data-opens
            onClick={(event) => {
              event.stopPropagation();
              setAnchor(event.currentTarget);
            }}
            sx={{ minWidth: 28, height: 28, p: 0, color: "#22282B" }}
          >
            ⋯
          </Button>
          <Menu open={anchor !== null} anchorEl={anchor} onClose={() => setAnchor(null)}>
            {item("Edit", () => setOpen(block.id))}
            {item(block.only ? "Change who sees it" : "Show to some people only", () =>
              setLimiting(true),
            )}
            {item("Move up", onUp)}
            {item("Move down", onDown)}
            {item("Duplicate", onDuplicate)}
            {kinds.map(([kind, word]) => (
              <MenuItem
                key={kind}
                onClick={() => {
                  setAnchor(null);
                  onAdd(kind);
                }}
                sx={kind === "text" ? { borderTop: 1, borderColor: "divider" } : {}}
              >
                Add below: {word.toLowerCase()}
              </MenuItem>
            ))}
            <MenuItem
              onClick={() => {
                setAnchor(null);
                onRemove();
              }}
              sx={{ borderTop: 1, borderColor: "divider" }}
            >
              Remove
            </MenuItem>
          </Menu>
        </Box>
      )}
      {limiting && (
        <OnlyFor
          name={`${name} ${number}`}
          only={block.only ?? null}
          onClose={() => setLimiting(false)}
          onChange={(only) => onChange({ ...block, only })}
        />
      )}
    </Box>
  );
}
