import Box from "@mui/material/Box";
import IconButton from "@mui/material/IconButton";
import Stack from "@mui/material/Stack";
import Typography from "@mui/material/Typography";
import type { ReactNode } from "react";
import { SAMPLE } from "../../parts/Band";

interface PanelProps {
  title: string;
  side?: Side;
  onClose: () => void;
  children: ReactNode;
}

const WIDTH = 360;
/** The width of the clock beside the lanes, in pixels. */
const MARGIN = 96;

/** Beside the lanes, or floating over the last or the first of them, which then keep their width. */
export type Side = "beside" | "right" | "left";

const PLACES: Record<Side, object> = {
  beside: { width: { xs: "100%", lg: 320 } },
  right: { ml: { lg: `-${WIDTH}px !important` }, boxShadow: { lg: 6 } },
  left: {
    order: { lg: -1 },
    ml: { lg: `${MARGIN}px !important` },
    mr: { lg: `-${WIDTH + MARGIN + 12}px !important` },
    boxShadow: { lg: 6 },
  },
};

/** The id of the panel. */
export const PANEL = "panel";

/** What is open beside the lanes: one thing at a time. Escape closes it. */
export function Panel({ title, side = "beside", onClose, children }: PanelProps) {
  return (
    <Box
      component="aside"
      aria-label={title}
      onKeyDown={(event) => {
        // A menu or a list that is open within it takes the key for itself.
        if (event.key !== "Escape" || event.defaultPrevented) return;
        event.preventDefault();
        onClose();
      }}
      sx={[
        {
          width: { xs: "100%", lg: WIDTH },
          ...PLACES[side],
          zIndex: { lg: 4 },
          flexShrink: 0,
          alignSelf: "flex-start",
          position: { lg: "sticky" },
          top: { lg: 84 },
          maxHeight: { lg: "calc(100vh - 100px)" },
          overflowY: "auto",
          p: 2,
        },
        ...SAMPLE,
      ]}
    >
      <Stack direction="row" sx={{ alignItems: "flex-start", mb: 1.5 }}>
        <Typography variant="h2" component="h2" sx={{ flex: 1, overflowWrap: "anywhere" }}>
          {title}
        </Typography>
        <IconButton
          aria-label="Close"
          size="small"
          onClick={onClose}
          sx={{ minWidth: 24, fontSize: "0.875rem", lineHeight: 1, color: "text.secondary" }}
        >
          ✕
        </IconButton>
      </Stack>
      <div id={PANEL}>{children}</div>
    </Box>
  );
}
