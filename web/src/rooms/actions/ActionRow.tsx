import Stack from "@mui/material/Stack";
import type { ReactNode } from "react";

/** The boxes of an action, side by side. */
export function ActionRow({ children }: { children: ReactNode }) {
  return (
    <Stack
      direction="row"
      spacing={1}
      useFlexGap
      sx={{ flexWrap: "wrap", alignItems: "flex-end", pt: 1 }}
    >
      {children}
    </Stack>
  );
}
