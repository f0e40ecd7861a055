import Box from "@mui/material/Box";
import Typography from "@mui/material/Typography";
import { useWorkspace } from "../../../api/workspace";
import { FOOTER_PARTS, unplaced, type Block } from "./blocks";
import { LetterBlocks } from "./LetterBlocks";
import { useLetter } from "./LetterContext";
import { FACES } from "./looks";

interface LetterSheetProps {
  blocks: Block[];
  onChange: (change: (blocks: Block[]) => Block[]) => void;
}

/** The letter itself, in the house style, written where it stands. */
export function LetterSheet({ blocks, onChange }: LetterSheetProps) {
  const { style, pictures, setOpen } = useLetter();
  const { data: workspace } = useWorkspace();
  const colours = style.light;
  const left = new Set(unplaced(blocks));
  const follows = FOOTER_PARTS.filter(
    ([part]) => left.has(part) && ["why", "leave", "own_page"].includes(part),
  );
  const logo = pictures.find((one) => one.id === style.logo);
  return (
    <Box
      onClick={() => setOpen(undefined)}
      sx={{ bgcolor: colours.paper, p: { xs: 1, sm: 2 }, border: 1, borderColor: "divider" }}
    >
      <Box
        sx={{
          bgcolor: colours.sheet,
          color: colours.ink,
          fontFamily: FACES[style.face],
          fontSize: 16,
          lineHeight: 1.55,
          maxWidth: style.width,
          mx: "auto",
          px: { xs: 3, sm: 6 },
          pt: 2.5,
          pb: 2.5,
          // The letter is light whatever the screen is: so are its fields.
          colorScheme: "light",
        }}
        onClick={(event) => event.stopPropagation()}
      >
        {logo ? (
          <Box
            component="img"
            src={logo.address}
            alt={logo.alt || (workspace?.sender_name ?? "")}
            sx={{ display: "block", width: Math.min(style.logo_width, logo.width), mb: 2 }}
          />
        ) : (
          <Box sx={{ fontWeight: 700, fontSize: 15, mb: 2 }}>{workspace?.sender_name}</Box>
        )}
        <LetterBlocks blocks={blocks} onChange={onChange} />
        <Box
          sx={{
            borderTop: 1,
            borderColor: colours.rule,
            mt: 2,
            pt: 1.5,
            fontSize: 13,
            opacity: 0.85,
          }}
        >
          {left.has("text") && style.footer && (
            <Box sx={{ whiteSpace: "pre-line", mb: 1 }}>{style.footer}</Box>
          )}
          {left.has("links") && style.links.length > 0 && (
            <Box sx={{ mb: 1 }}>{style.links.map((one) => one.label || one.link).join(" · ")}</Box>
          )}
          <Typography sx={{ fontSize: 13, fontFamily: "inherit" }}>
            {left.has("sender") &&
              `${[workspace?.sender_name, workspace?.postal_address].filter(Boolean).join(", ")}. `}
            {follows.length > 0 &&
              `Added when it is sent: ${follows.map(([, label]) => label.toLowerCase()).join(", ")}.`}
          </Typography>
        </Box>
      </Box>
    </Box>
  );
}
