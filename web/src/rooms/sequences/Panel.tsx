import Box from "@mui/material/Box";
import IconButton from "@mui/material/IconButton";
import Stack from "@mui/material/Stack";
import Typography from "@mui/material/Typography";
import type { ReactNode } from "react";

interface PanelProps {
  title: string;
  /** Over which lane it floats: that on the right, or on the left where what is open stands on the right. */
  side?: "right" | "left";
  onClose: () => void;
  children: ReactNode;
}

const WIDTH = 360;
/** The width of the clock beside the lanes, in pixels. */
const MARGIN = 96;

/** The id of the panel. */
export const PANEL = "panel";

/** What is open beside the lanes: one thing at a time. Escape closes it. */
export function Panel({ title, side = "right", onClose, children }: PanelProps) {
  return (
    <Box
      component="aside"
      aria-label={title}
      onKeyDown={(event) => {
        // A menu or a list that is open within it takes the key for itself.
        if (event.key === "Escape" && !event.defaultPrevented) onClose();
      }}
      sx={{
        // The lanes keep their width.
        width: { xs: "100%", lg: WIDTH },
        ...(side === "right"
          ? { ml: { lg: `-${WIDTH}px !important` } }
          : {
              order: { lg: -1 },
              ml: { lg: `${MARGIN}px !important` },
              mr: { lg: `-${WIDTH + MARGIN + 12}px !important` },
            }),
        zIndex: { lg: 4 },
        boxShadow: { lg: 6 },
        flexShrink: 0,
        alignSelf: "flex-start",
        position: { lg: "sticky" },
        top: { lg: 84 },
        maxHeight: { lg: "calc(100vh - 100px)" },
        overflowY: "auto",
        p: 2,
        background: "#F1ECE2",
        '[data-mui-color-scheme="dark"] &': { background: "#1F2527" },
      }}
    >
      <Stack direction="row" sx={{ alignItems: "flex-start", mb: 1.5 }}>
        <Typography variant="h2" component="h2" sx={{ flex: 1, overflowWrap: "anywhere" }}>
          {title}
        </Typography>
        <IconButton
          aria-label="Close"
          size="small"
          onClick={onClose}
          sx={{ fontSize: "0.875rem", lineHeight: 1, color: "text.secondary" }}
        >
          ✕
        </IconButton>
      </Stack>
      <div id={PANEL}>{children}</div>
    </Box>
  );
}
