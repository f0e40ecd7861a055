import Box from "@mui/material/Box";
import Typography from "@mui/material/Typography";
import type { Theme } from "@mui/material/styles";
import type { ReactNode } from "react";

const COLUMNS = { xs: "minmax(0, 1fr)", md: "116px minmax(0, 1fr)" };

interface BandProps {
  name: string;
  id?: string;
  /** The state of the band, in a few words, below its name in the margin. */
  note?: ReactNode;
  children: ReactNode;
}

/** One part of a sheet: its name and state in the margin, what is edited beside it. */
export function Band({ name, id, note, children }: BandProps) {
  return (
    <Box
      component="section"
      aria-label={name}
      id={id}
      sx={{
        display: "grid",
        gridTemplateColumns: COLUMNS,
        columnGap: 2.5,
        py: 1.75,
        borderBottom: 1,
        borderColor: "divider",
      }}
    >
      <Box sx={{ pb: { xs: 1, md: 0 } }}>
        <Typography variant="h2" component="h2">
          {name}
        </Typography>
        <Typography variant="caption" component="div" color="textSecondary">
          {note}
        </Typography>
      </Box>
      <Box sx={{ minWidth: 0, maxWidth: 1120 }}>{children}</Box>
    </Box>
  );
}

/** The track that a sample runs down. */
export const SAMPLE = [
  { bgcolor: "#F1ECE2" },
  (theme: Theme) => theme.applyStyles("dark", { bgcolor: "#1F2527" }),
];

interface BandRowProps {
  id?: string;
  children: ReactNode;
  /** What this line made of the sample. */
  sample?: ReactNode;
  /** Whether a rule separates it from the line before. */
  ruled?: boolean;
}

/** A line of a band, with the sample of it on the same height on the right. */
export function BandRow({ id, children, sample, ruled }: BandRowProps) {
  const withSample = sample !== undefined && sample !== false;
  return (
    <Box
      id={id}
      data-line
      sx={{
        display: "grid",
        gridTemplateColumns: {
          xs: "minmax(0, 1fr)",
          md: withSample ? "minmax(0, 1fr) 288px" : "minmax(0, 1fr)",
        },
        scrollMarginTop: 96,
        ...(ruled && { borderTop: 1, borderColor: "divider", borderTopStyle: "dotted" }),
      }}
    >
      <Box sx={{ py: 0.75, minWidth: 0, bgcolor: "background.paper", px: 1.5 }}>{children}</Box>
      {withSample && (
        <Box
          sx={[
            {
              pt: 1.125,
              pb: 0.75,
              minWidth: 0,
              px: 2,
              overflowWrap: "anywhere",
              // Below the line that it belongs to, where it says nothing, it is in the way.
              "&:empty": { display: { xs: "none", md: "block" } },
            },
            ...SAMPLE,
          ]}
        >
          {sample}
        </Box>
      )}
    </Box>
  );
}
