import Box from "@mui/material/Box";
import MenuItem from "@mui/material/MenuItem";
import TextField from "@mui/material/TextField";
import { FOOTER_PARTS, type Block } from "./blocks";
import { BlockForm } from "./BlockForm";
import { useLetter } from "./LetterContext";

type FooterBlock = Extract<Block, { kind: "footer" }>;

interface FooterViewProps {
  block: FooterBlock;
  onChange: (block: FooterBlock) => void;
}

/** A part of the footer that the letter places itself. */
export function FooterView({ block, onChange }: FooterViewProps) {
  const { open, style } = useLetter();
  const name = FOOTER_PARTS.find(([part]) => part === block.part)?.[1];
  return (
    <>
      <Box sx={{ fontSize: 13, opacity: 0.85, whiteSpace: "pre-line" }}>
        {(block.part === "text" && style.footer) || name}
      </Box>
      {open === block.id && (
        <BlockForm>
          <TextField
            select
            label="Part of the footer"
            value={block.part}
            helperText="Shown here instead of at the bottom"
            onChange={(event) =>
              onChange({ ...block, part: event.target.value as typeof block.part })
            }
          >
            {FOOTER_PARTS.map(([part, label]) => (
              <MenuItem key={part} value={part}>
                {label}
              </MenuItem>
            ))}
          </TextField>
        </BlockForm>
      )}
    </>
  );
}
