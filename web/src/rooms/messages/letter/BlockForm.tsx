import Box from "@mui/material/Box";
import type { ReactNode } from "react";

/** What can be set of a block, in the colours of the screen rather than those of the letter. */
export function BlockForm({ children }: { children: ReactNode }) {
  return (
    <Box
      sx={{
        mt: 1,
        p: 1.5,
        bgcolor: "background.paper",
        color: "text.primary",
        border: 1,
        borderColor: "divider",
        fontFamily: "body1.fontFamily",
        fontStyle: "normal",
        colorScheme: "normal",
      }}
    >
      {children}
    </Box>
  );
}
