import Box from "@mui/material/Box";
import type { ReactNode } from "react";

/** What a sentence on a sheet is about: the names in it. */
export function Named({ children }: { children: ReactNode }) {
  return (
    <Box component="strong" sx={{ color: "text.primary", fontWeight: 600 }}>
      {children}
    </Box>
  );
}
