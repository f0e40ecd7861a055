import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Stack from "@mui/material/Stack";
import Typography from "@mui/material/Typography";
import type { ReactNode } from "react";
import { useFocusBack } from "./useFocusBack";

interface ReadLineOfProps {
  /** What it is, for the name of the button. */
  name: string;
  /** The setting as a sentence. */
  says: ReactNode;
  open: boolean;
  readOnly: boolean;
  onOpen: (open: boolean) => void;
  /** What it is edited with. */
  children: ReactNode;
}

/** A setting that is read as a sentence, and opens to be edited. */
export function ReadLineOf(props: ReadLineOfProps) {
  const { name, says, open, readOnly, onOpen, children } = props;
  const root = useFocusBack<HTMLDivElement>(open);
  if (open) {
    return (
      <Box sx={{ py: 0.75, pl: 1.5, ml: -1.5, borderLeft: 3, borderColor: "primary.main" }}>
        {children}
      </Box>
    );
  }
  return (
    <Stack ref={root} direction="row" spacing={1} sx={{ alignItems: "center", minHeight: 28 }}>
      <Typography color="textSecondary" sx={{ minWidth: 0, overflowWrap: "anywhere" }}>
        {says}
      </Typography>
      {!readOnly && (
        <Button
          data-opens
          aria-label={`Edit ${name}`}
          onClick={() => onOpen(true)}
          sx={{ ml: "auto !important", my: "-2px !important", mr: "28px !important" }}
        >
          Edit
        </Button>
      )}
    </Stack>
  );
}
