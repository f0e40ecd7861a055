import Box from "@mui/material/Box";
import Typography from "@mui/material/Typography";
import type { ReactNode } from "react";
import { Because, type BecauseData } from "./Because";
import { origin } from "./origin";

interface CausesProps<Thing> {
  /** Things of one origin. */
  of: [Thing, ...Thing[]];
  name: (thing: Thing) => string;
  says: (thing: Thing) => ReactNode;
}

/** Facts of one origin: each with what made it so, and the origin once below them. */
export function Causes<Thing extends { because: Record<string, unknown> | null }>(
  props: CausesProps<Thing>,
) {
  const { of, name, says } = props;
  const [first, ...others] = of;
  if (others.length === 0) {
    return (
      <Typography>
        {says(first)} <Because because={first.because} />
      </Typography>
    );
  }
  const sentence = (thing: Thing) => (thing.because as BecauseData | null)?.sentence ?? "";
  const isOne = others.every((one) => sentence(one) === sentence(first));
  return (
    <Box>
      {of.map((one) => (
        <Typography key={name(one)}>
          {says(one)}{" "}
          {!isOne && sentence(one) && (
            <Typography component="span" variant="body2" color="textSecondary">
              because {sentence(one)}
            </Typography>
          )}
        </Typography>
      ))}
      <Because because={isOne ? first.because : origin(first.because)} origin={!isOne} />
    </Box>
  );
}
