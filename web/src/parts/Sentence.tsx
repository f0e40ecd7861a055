import Box from "@mui/material/Box";
import Stack from "@mui/material/Stack";
import Typography from "@mui/material/Typography";
import type { ReactNode } from "react";
import { useOpens } from "./focus/useOpens";

interface SentenceProps {
  /** What it is, where that is not plain from the sentence. */
  label?: string;
  /** The setting as a sentence. */
  says: ReactNode;
  /** What can be done with it (`LineTools`); nothing for readers. */
  tools?: ReactNode;
  open: boolean;
  /** What it is edited with. */
  children: ReactNode;
}

/** A setting that is read as a sentence, and opens to be edited. */
export function Sentence({ label, says, tools, open, children }: SentenceProps) {
  const root = useOpens<HTMLDivElement>(open);
  const named = label ? { role: "group", "aria-label": label } : {};
  if (open) {
    return (
      <Box
        {...named}
        ref={root}
        sx={{ py: 0.75, pl: 1.5, ml: -1.5, borderLeft: 3, borderColor: "primary.main" }}
      >
        {children}
      </Box>
    );
  }
  return (
    <Stack
      {...named}
      ref={root}
      direction="row"
      spacing={1}
      sx={{ alignItems: "center", minHeight: 28 }}
    >
      <Typography color="textSecondary" sx={{ minWidth: 0, overflowWrap: "anywhere" }}>
        {says}
      </Typography>
      {tools}
    </Stack>
  );
}
