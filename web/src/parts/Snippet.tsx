import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Stack from "@mui/material/Stack";
import Typography from "@mui/material/Typography";
import { useState } from "react";
import { mono } from "../theme";

/** A piece of text to copy: an address, a line of HTML, a command. */
export function Snippet({ label, text }: { label: string; text: string }) {
  const [status, setStatus] = useState("");
  const copy = async () => {
    try {
      await navigator.clipboard.writeText(text);
      setStatus("Copied");
    } catch {
      setStatus("Select it and copy it");
    }
  };
  return (
    <Box sx={{ py: 0.5 }}>
      <Stack direction="row" spacing={1} sx={{ alignItems: "baseline" }}>
        <Typography variant="caption" color="textSecondary">
          {label}
        </Typography>
        <Button onClick={() => void copy()} aria-label={`Copy: ${label}`} sx={{ py: 0 }}>
          Copy
        </Button>
        <Typography variant="caption" role="status">
          {status}
        </Typography>
      </Stack>
      <Box
        component="pre"
        tabIndex={0}
        sx={{
          m: 0,
          p: 1,
          fontFamily: mono,
          fontSize: "0.8125rem",
          border: 1,
          borderColor: "divider",
          borderRadius: 1,
          whiteSpace: "pre-wrap",
          overflowWrap: "anywhere",
          maxHeight: 180,
          overflow: "auto",
        }}
      >
        {text}
      </Box>
    </Box>
  );
}
