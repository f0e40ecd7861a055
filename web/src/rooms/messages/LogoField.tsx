import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Stack from "@mui/material/Stack";
import Typography from "@mui/material/Typography";
import type { Schemas } from "../../api/client";

type Picture = Schemas["PictureOut"];

interface LogoFieldProps {
  /** What it is called in buttons, as “logo”. */
  what: string;
  logo: Picture | undefined;
  /** The background that it stands on. */
  ground: string;
  /** What is there without one. */
  without: string;
  readOnly: boolean;
  onChoose: () => void;
  onRemove: () => void;
}

/** A logo of letters, as it looks on its background, to be chosen and removed. */
export function LogoField(props: LogoFieldProps) {
  const { what, logo, ground, without, readOnly, onChoose, onRemove } = props;
  return (
    <Stack
      direction="row"
      spacing={1.5}
      useFlexGap
      sx={{ alignItems: "center", flexWrap: "wrap", mb: 1.5 }}
    >
      {logo ? (
        <Box
          component="img"
          src={logo.address}
          alt={logo.alt}
          sx={{
            height: 52,
            maxWidth: 212,
            p: 0.75,
            bgcolor: ground,
            objectFit: "contain",
            aspectRatio: `${logo.width} / ${logo.height}`,
          }}
        />
      ) : (
        <Typography variant="body2" color="textSecondary">
          {without}
        </Typography>
      )}
      {!readOnly && (
        <Button
          variant="outlined"
          onClick={onChoose}
          aria-label={logo ? `Change the ${what}` : undefined}
        >
          {logo ? "Change" : `Choose a ${what}`}
        </Button>
      )}
      {logo && !readOnly && (
        <Button onClick={onRemove} aria-label={`Remove the ${what}`}>
          Remove
        </Button>
      )}
    </Stack>
  );
}
