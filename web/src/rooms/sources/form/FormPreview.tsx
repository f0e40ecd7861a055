import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Link from "@mui/material/Link";
import Stack from "@mui/material/Stack";
import Typography from "@mui/material/Typography";
import type { Schemas } from "../../../api/client";

const WIDTHS = { phone: 390, desktop: 1040 };
export const PREVIEW = 392;
const HEIGHT = 600;

/** How wide the screen is on which the form is shown beside its questions. */
export type Screen = keyof typeof WIDTHS;

interface ScreenChoiceProps {
  address: string;
  screen: Screen | undefined;
  onScreen: (screen: Screen | undefined) => void;
}

/** Chooses whether the form stands beside its questions, and how wide its screen is. */
export function ScreenChoice({ address, screen, onScreen }: ScreenChoiceProps) {
  return (
    <Stack direction="row" spacing={1} useFlexGap sx={{ alignItems: "baseline", flexWrap: "wrap" }}>
      <Typography variant="body2" color="textSecondary">
        As a visitor sees it:
      </Typography>
      {(["phone", "desktop"] as const).map((one) => (
        <Button
          key={one}
          aria-pressed={screen === one}
          variant={screen === one ? "outlined" : "text"}
          onClick={() => onScreen(screen === one ? undefined : one)}
        >
          On a {one}
        </Button>
      ))}
      <Link href={address} target="_blank" rel="noreferrer" variant="body2">
        Try it in a window of its own
      </Link>
    </Stack>
  );
}

interface FormPreviewProps {
  address: string;
  screen: Screen;
  /** Counts the saves of the draft: with each, the page is loaded again. */
  edits: Schemas["SourceOut"]["edits"];
}

/** The real page of the form, of the draft, live; what is sent in it is a test. */
export function FormPreview({ address, screen, edits }: FormPreviewProps) {
  const scale = Math.min(1, PREVIEW / WIDTHS[screen]);
  return (
    <Box
      sx={{
        position: "sticky",
        top: 92,
        width: "100%",
        height: HEIGHT,
        border: 1,
        borderColor: "divider",
        overflow: "hidden",
      }}
    >
      <Box
        component="iframe"
        key={`${edits}-${screen}`}
        src={address}
        title={`The form on a ${screen}`}
        sx={{
          border: 0,
          width: WIDTHS[screen],
          height: HEIGHT / scale,
          transform: `scale(${scale})`,
          transformOrigin: "0 0",
        }}
      />
    </Box>
  );
}
