import Box from "@mui/material/Box";
import Typography from "@mui/material/Typography";
import type { ReactNode } from "react";

/** An empty screen: what goes here, and the first step. */
export function Empty({ says, children }: { says: string; children?: ReactNode }) {
  return (
    <Box sx={{ py: 5, maxWidth: 560 }}>
      <Typography color="textSecondary" sx={{ mb: 2 }}>
        {says}
      </Typography>
      {children}
    </Box>
  );
}
