import Box from "@mui/material/Box";
import Typography from "@mui/material/Typography";
import { Problem } from "./Problem";

/** While something loads, or when it could not be loaded. */
export function Loading({ error, within }: { error?: unknown; within?: "a sheet" }) {
  return (
    <Box component={within ? "div" : "main"} sx={{ p: within ? 0 : 3 }} aria-busy={!error}>
      {error ? <Problem error={error} /> : <Typography color="textSecondary">Loading …</Typography>}
    </Box>
  );
}
