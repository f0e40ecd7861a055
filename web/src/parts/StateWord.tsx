import Box from "@mui/material/Box";
import Typography from "@mui/material/Typography";

const MARKS: Record<string, { mark: string; color: string }> = {
  live: { mark: "●", color: "primary.main" },
  draft: { mark: "○", color: "text.secondary" },
  paused: { mark: "‖", color: "warning.main" },
  received: { mark: "○", color: "text.secondary" },
  routed: { mark: "●", color: "primary.main" },
  held: { mark: "‖", color: "warning.main" },
  stuck: { mark: "▲", color: "error.main" },
  pending: { mark: "○", color: "warning.main" },
  subscribed: { mark: "●", color: "primary.main" },
  unsubscribed: { mark: "○", color: "text.secondary" },
};

/** A state: a mark and its word; colour never stands alone. */
export function StateWord({ state, word }: { state: string; word?: string }) {
  const { mark, color } = MARKS[state] ?? { mark: "○", color: "text.secondary" };
  return (
    <Typography component="span" variant="body2" sx={{ color, whiteSpace: "nowrap" }}>
      <Box component="span" aria-hidden sx={{ mr: 0.5, fontSize: "0.75em" }}>
        {mark}
      </Box>
      <span>{word ?? state}</span>
    </Typography>
  );
}
