import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Stack from "@mui/material/Stack";
import Typography from "@mui/material/Typography";
import { useId, useState, type ReactNode } from "react";
import { focusOnId } from "../../parts/focus/focus";

interface OneOpenProps {
  sentence: ReactNode;
  /** Whether it begins open: nothing is chosen yet. */
  starts: boolean;
  readOnly: boolean;
  children: ReactNode;
}

/** A sentence that opens for editing, and closes into its sentence. */
export function OneOpen({ sentence, starts, readOnly, children }: OneOpenProps) {
  const [open, setOpen] = useState(() => starts && !readOnly);
  const id = useId();
  return (
    <>
      <Stack direction="row" spacing={2} sx={{ alignItems: "start" }}>
        <Typography
          component="div"
          sx={{ flex: 1, minWidth: 0, overflowWrap: "anywhere", pt: 0.5 }}
        >
          {sentence}
        </Typography>
        {!readOnly && (
          <Button
            aria-expanded={open}
            onClick={() => {
              setOpen(!open);
              if (!open) focusOnId(id, "into");
            }}
          >
            {open ? "Done" : "Edit"}
          </Button>
        )}
      </Stack>
      {open && (
        <Box id={id} sx={{ mt: 1 }}>
          {children}
        </Box>
      )}
    </>
  );
}
