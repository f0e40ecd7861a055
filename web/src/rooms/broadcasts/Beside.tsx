import Box from "@mui/material/Box";
import type { ReactNode } from "react";

/** The sheet, and somebody beside it where there is room; below it elsewhere. */
export function Beside({ person, children }: { person: ReactNode; children: ReactNode }) {
  return (
    <Box
      sx={{
        display: "grid",
        gridTemplateColumns: { xs: "minmax(0, 1fr)", lg: "minmax(0, 1fr) 288px" },
      }}
    >
      <Box sx={{ minWidth: 0, pr: { lg: 2 } }}>{children}</Box>
      <Box sx={{ mr: { lg: -3 }, minWidth: 0 }}>{person}</Box>
    </Box>
  );
}
