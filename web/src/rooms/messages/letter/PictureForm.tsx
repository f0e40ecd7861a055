import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Checkbox from "@mui/material/Checkbox";
import FormControlLabel from "@mui/material/FormControlLabel";
import Stack from "@mui/material/Stack";
import { useState } from "react";
import { NumberField } from "../../../parts/NumberField";
import { PictureChooser } from "../PictureChooser";
import type { Block } from "./blocks";
import { Missing } from "./Missing";
import { useLetter } from "./LetterContext";
import { TokenField } from "./TokenField";

type PictureBlock = Extract<Block, { kind: "picture" }>;

/** The picture as it stands in the letter. */
export function PictureView({ block }: { block: PictureBlock }) {
  const { pictures } = useLetter();
  const found = pictures.find((one) => one.id === block.picture);
  if (!found) return <Missing says={block.picture ? "The picture is gone" : "No picture chosen"} />;
  return (
    <Box
      component="img"
      src={found.address}
      alt={block.ornament ? "" : block.alt || found.alt}
      sx={{ display: "block", width: `${block.share}%`, maxWidth: found.width, height: "auto" }}
    />
  );
}

/** Which picture, what it shows, and where it leads. */
export function PictureForm(props: { block: PictureBlock; onChange: (block: Block) => void }) {
  const { block, onChange } = props;
  const [choosing, setChoosing] = useState(!block.picture);
  return (
    <Stack spacing={1.5}>
      <div>
        <Button variant="outlined" onClick={() => setChoosing(true)}>
          {block.picture ? "Choose another picture" : "Choose a picture"}
        </Button>
      </div>
      <TokenField
        label="Alternative text"
        value={block.alt}
        helperText="What it shows, for people who do not see it"
        onChange={(alt) => onChange({ ...block, alt })}
      />
      <FormControlLabel
        control={
          <Checkbox
            size="small"
            checked={block.ornament}
            onChange={(event) => onChange({ ...block, ornament: event.target.checked })}
          />
        }
        label="Decorative: needs no alternative text"
      />
      <Stack direction="row" spacing={1.5}>
        <TokenField
          link
          label="Link (optional)"
          value={block.link}
          onChange={(link) => onChange({ ...block, link })}
        />
        <NumberField
          label="Width in %"
          value={block.share}
          min={10}
          max={100}
          onChange={(share) => onChange({ ...block, share })}
          sx={{ width: 130 }}
        />
      </Stack>
      {choosing && (
        <PictureChooser
          onClose={() => setChoosing(false)}
          onChoose={(picture) => {
            onChange({ ...block, picture: picture.id, alt: block.alt || picture.alt });
            setChoosing(false);
          }}
        />
      )}
    </Stack>
  );
}
