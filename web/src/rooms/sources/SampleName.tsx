import Box from "@mui/material/Box";
import { SAMPLE } from "../../parts/Band";

/** Whose answers run down the right side, under the head of the sheet, once its choice is out of sight. */
export function SampleName({ name }: { name: string }) {
  return (
    <Box
      sx={[
        {
          display: { xs: "none", md: "block" },
          position: "absolute",
          top: "100%",
          right: 24,
          width: 288,
          px: 2,
          py: 0.5,
          typography: "body2",
          fontWeight: 600,
          overflow: "hidden",
          textOverflow: "ellipsis",
          whiteSpace: "nowrap",
          borderBottom: 1,
          borderColor: "divider",
        },
        ...SAMPLE,
      ]}
    >
      Sample: {name}
    </Box>
  );
}
