import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Typography from "@mui/material/Typography";
import { ApiError } from "../api/client";

interface ProblemProps {
  error: unknown;
  /** Where it stays until it is dismissed. */
  onDismiss?: () => void;
}

/** An error where it belongs: what is wrong, and what to do. */
export function Problem({ error, onDismiss }: ProblemProps) {
  if (!error) return null;
  const sentence = error instanceof Error ? error.message : "Something went wrong.";
  const wrongs = error instanceof ApiError ? error.wrongs : [];
  return (
    <Box role="alert" sx={{ borderLeft: 3, borderColor: "error.main", pl: 1.5, my: 1 }}>
      <Typography variant="body2" color="error">
        {sentence}
      </Typography>
      {wrongs
        .filter((wrong) => wrong.sentence !== sentence || wrong.fix)
        .map((wrong) => (
          <Typography variant="body2" key={wrong.code + wrong.place}>
            {wrong.sentence !== sentence && wrong.sentence} {wrong.fix}
          </Typography>
        ))}
      {onDismiss && <Button onClick={onDismiss}>Dismiss</Button>}
    </Box>
  );
}
