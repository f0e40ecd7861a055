import Box from "@mui/material/Box";
import Stack from "@mui/material/Stack";
import TextField from "@mui/material/TextField";
import MenuItem from "@mui/material/MenuItem";
import Typography from "@mui/material/Typography";
import { NumberField } from "../../../parts/NumberField";
import type { Block } from "./blocks";
import { BlockForm } from "./BlockForm";
import { FooterView } from "./FooterView";
import { useLetter } from "./LetterContext";
import { readableOn } from "./looks";
import { Missing } from "./Missing";
import { PictureForm, PictureView } from "./PictureForm";
import { TokenField } from "./TokenField";
import { WritingBox } from "./WritingBox";

interface BlockViewProps<Kind extends Block["kind"] = Block["kind"]> {
  block: Extract<Block, { kind: Kind }>;
  onChange: (block: Block) => void;
}

/** A block as it stands in the letter; where it is open, with what can be set. */
export function BlockView({ block, onChange }: BlockViewProps) {
  switch (block.kind) {
    case "text":
      return <TextView block={block} onChange={onChange} />;
    case "heading":
      return <HeadingView block={block} onChange={onChange} />;
    case "picture":
      return <PictureBlockView block={block} onChange={onChange} />;
    case "button":
      return <ButtonView block={block} onChange={onChange} />;
    case "file":
      return <FileView block={block} onChange={onChange} />;
    case "quotation":
      return <QuotationView block={block} onChange={onChange} />;
    case "divider":
      return <Divider />;
    case "space":
      return <SpaceView block={block} onChange={onChange} />;
    case "footer":
      return <FooterView block={block} onChange={onChange} />;
    case "columns":
      return null;
  }
}

function useOpen(id: string) {
  const { open, setOpen } = useLetter();
  return { open: open === id, show: () => setOpen(id) };
}

function TextView({ block, onChange }: BlockViewProps<"text">) {
  const { open, show } = useOpen(block.id);
  return (
    <WritingBox
      label="Text of the message"
      html={block.html}
      tools={open}
      onFocus={show}
      onChange={(html) => onChange({ ...block, html })}
    />
  );
}

const SIZES = { 1: 28, 2: 22, 3: 18 };

function HeadingView({ block, onChange }: BlockViewProps<"heading">) {
  const { open } = useOpen(block.id);
  if (!open) {
    return (
      <Box sx={{ fontSize: SIZES[block.level], fontWeight: 700, lineHeight: 1.25 }}>
        {block.text || <Missing says="An empty heading" />}
      </Box>
    );
  }
  return (
    <BlockForm>
      <Stack direction="row" spacing={1}>
        <TokenField
          autoFocus
          label="Heading"
          value={block.text}
          onChange={(text) => onChange({ ...block, text })}
        />
        <TextField
          select
          label="Size"
          value={block.level}
          onChange={(event) =>
            onChange({ ...block, level: Number(event.target.value) as 1 | 2 | 3 })
          }
          sx={{ width: 120 }}
        >
          <MenuItem value={1}>Large</MenuItem>
          <MenuItem value={2}>Medium</MenuItem>
          <MenuItem value={3}>Small</MenuItem>
        </TextField>
      </Stack>
    </BlockForm>
  );
}

function PictureBlockView({ block, onChange }: BlockViewProps<"picture">) {
  const { open } = useOpen(block.id);
  return (
    <>
      <PictureView block={block} />
      {open && (
        <BlockForm>
          <PictureForm block={block} onChange={onChange} />
        </BlockForm>
      )}
    </>
  );
}

/** What a link looks like that is asked for. */
function Act({ children }: { children: React.ReactNode }) {
  const { style } = useLetter();
  return (
    <Box
      component="span"
      sx={{
        display: "inline-block",
        px: 2.75,
        py: 1.5,
        borderRadius: "3px",
        bgcolor: style.light.accent,
        color: readableOn(style.light.accent),
      }}
    >
      {children}
    </Box>
  );
}

function ButtonView({ block, onChange }: BlockViewProps<"button">) {
  const { open } = useOpen(block.id);
  return (
    <>
      <Act>{block.label || "…"}</Act>
      {open && (
        <BlockForm>
          <Stack spacing={1.5}>
            <TokenField
              autoFocus
              label="Button text"
              value={block.label}
              onChange={(label) => onChange({ ...block, label })}
            />
            <TokenField
              link
              label="Link"
              placeholder="https://"
              value={block.link}
              onChange={(link) => onChange({ ...block, link })}
            />
          </Stack>
        </BlockForm>
      )}
    </>
  );
}

function FileView({ block, onChange }: BlockViewProps<"file">) {
  const { open } = useOpen(block.id);
  return (
    <>
      <Act>{block.label || "…"}</Act>
      {open && (
        <BlockForm>
          <TokenField
            autoFocus
            label="Button text"
            value={block.label}
            onChange={(label) => onChange({ ...block, label })}
          />
        </BlockForm>
      )}
    </>
  );
}

function QuotationView({ block, onChange }: BlockViewProps<"quotation">) {
  const { open, show } = useOpen(block.id);
  const { style } = useLetter();
  return (
    <Box sx={{ borderLeft: 3, borderColor: style.light.rule, pl: 1.75, fontStyle: "italic" }}>
      <WritingBox
        label="Quotation"
        html={block.html}
        tools={open}
        onFocus={show}
        onChange={(html) => onChange({ ...block, html })}
      />
      {open ? (
        <BlockForm>
          <TokenField
            label="Who said it (optional)"
            value={block.by}
            onChange={(by) => onChange({ ...block, by })}
          />
        </BlockForm>
      ) : (
        block.by && <Box sx={{ fontStyle: "normal", fontSize: 14, mt: 1 }}>{block.by}</Box>
      )}
    </Box>
  );
}

function Divider() {
  const { style } = useLetter();
  return (
    <Box component="hr" sx={{ border: 0, borderTop: 1, borderColor: style.light.rule, my: 1 }} />
  );
}

function SpaceView({ block, onChange }: BlockViewProps<"space">) {
  const { open } = useOpen(block.id);
  return (
    <Box
      sx={{
        height: open ? "auto" : block.height,
        minHeight: 12,
        color: "#566165",
        fontSize: 13,
        display: "flex",
        alignItems: "center",
      }}
    >
      {open ? (
        <BlockForm>
          <NumberField
            label="Height in pixels"
            value={block.height}
            min={4}
            max={120}
            onChange={(height) => onChange({ ...block, height })}
            sx={{ width: 160 }}
          />
        </BlockForm>
      ) : (
        <Typography variant="caption">{block.height} px of space</Typography>
      )}
    </Box>
  );
}
