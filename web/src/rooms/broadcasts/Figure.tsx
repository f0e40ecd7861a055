import Box from "@mui/material/Box";
import Typography from "@mui/material/Typography";
import { number } from "../../parts/formats";

/** A figure, and what it counts. */
export function Figure({ value, says }: { value: number | string; says: string }) {
  return (
    <Box>
      <Typography sx={{ fontSize: "1.75rem", fontWeight: 600, lineHeight: 1.2 }}>
        {typeof value === "number" ? number(value) : value}
      </Typography>
      <Typography variant="body2" color="textSecondary">
        {says}
      </Typography>
    </Box>
  );
}
