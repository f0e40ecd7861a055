import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Link from "@mui/material/Link";
import Stack from "@mui/material/Stack";
import Typography from "@mui/material/Typography";
import { useState } from "react";
import type { Schemas } from "../../api/client";
import { BandRow } from "../../parts/Band";

const WIDTHS = { phone: 390, desktop: 1040 };
type Width = keyof typeof WIDTHS;
const ROOM = 640;

/** The form as a visitor sees it, live: the real page, of the draft; what is sent is a test. */
export function FormPreview({ source, edits }: { source: Schemas["SourceOut"]; edits: number }) {
  const [width, setWidth] = useState<Width>();
  // The address is signed anew with every answer of the server; the page need not follow that.
  const [address] = useState(source.try_address);
  const scale = width ? Math.min(1, ROOM / WIDTHS[width]) : 1;
  return (
    <BandRow ruled>
      <Stack direction="row" spacing={1} sx={{ alignItems: "baseline" }}>
        <Typography>As a visitor sees it</Typography>
        {(["phone", "desktop"] as const).map((one) => (
          <Button
            key={one}
            aria-pressed={width === one}
            variant={width === one ? "outlined" : "text"}
            onClick={() => setWidth(width === one ? undefined : one)}
          >
            On a {one}
          </Button>
        ))}
        <Link href={address} target="_blank" rel="noreferrer" variant="body2">
          Try it in a window of its own
        </Link>
      </Stack>
      {width && (
        <Box
          sx={{
            mt: 1,
            width: WIDTHS[width] * scale + 2,
            maxWidth: "100%",
            height: 560,
            border: 1,
            borderColor: "divider",
            overflow: "hidden",
          }}
        >
          <Box
            component="iframe"
            key={`${edits}-${width}`}
            src={address}
            title={`The form on a ${width}`}
            sx={{
              border: 0,
              width: WIDTHS[width],
              height: 560 / scale,
              transform: `scale(${scale})`,
              transformOrigin: "0 0",
            }}
          />
        </Box>
      )}
    </BandRow>
  );
}
