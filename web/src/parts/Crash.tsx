import Box from "@mui/material/Box";
import Typography from "@mui/material/Typography";
import Button from "@mui/material/Button";
import { Link, useRouteError } from "react-router";

interface CrashProps {
  missing?: boolean;
  /** Whether the script of a room did not come. */
  notLoaded?: boolean;
}

/** Instead of a white page: a sentence, and a way back. */
export function Crash({ missing = false, notLoaded = false }: CrashProps) {
  const error = useRouteError();
  return (
    <Box component="main" sx={{ p: 4, maxWidth: 560 }} role="alert">
      <Typography variant="h1" component="h1" sx={{ mb: 1 }}>
        {missing
          ? "There is nothing here"
          : notLoaded
            ? "This room could not be loaded"
            : "This screen stopped working"}
      </Typography>
      <Typography sx={{ mb: 2 }}>
        {missing
          ? "The address leads nowhere; it may have been removed."
          : notLoaded
            ? "What was saved is safe. Check your connection, then load it again."
            : "What was saved is safe. Load it again, or go back to the desk."}
      </Typography>
      {error instanceof Error && (
        <Typography variant="body2" color="textSecondary" sx={{ mb: 2 }}>
          {error.message}
        </Typography>
      )}
      {!missing && (
        <Button variant="outlined" onClick={() => window.location.reload()} sx={{ mr: 2 }}>
          Load it again
        </Button>
      )}
      <Link to="/">Back to the desk</Link>
    </Box>
  );
}
