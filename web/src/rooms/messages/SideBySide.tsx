import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Dialog from "@mui/material/Dialog";
import DialogActions from "@mui/material/DialogActions";
import DialogContent from "@mui/material/DialogContent";
import DialogTitle from "@mui/material/DialogTitle";
import { useState } from "react";
import { PreviewPane, type Look } from "./PreviewPane";

interface SideBySideProps {
  message: string;
  edits: number;
  /** How it was looked at before. */
  first: Look;
  onClose: () => void;
}

/** Two previews beside each other: two people, or two ways of looking at one letter. */
export function SideBySide({ message, edits, first, onClose }: SideBySideProps) {
  const [left, setLeft] = useState(() => first);
  const [right, setRight] = useState<Look>({
    ...first,
    way: first.way === "phone" ? "desktop" : "phone",
  });
  const panes: [string, Look, (look: Look) => void][] = [
    ["Left", left, setLeft],
    ["Right", right, setRight],
  ];
  return (
    <Dialog open fullWidth maxWidth="xl" onClose={onClose}>
      <DialogTitle>Two previews</DialogTitle>
      <DialogContent>
        <Box
          sx={{
            display: "grid",
            gap: 3,
            gridTemplateColumns: { xs: "minmax(0, 1fr)", md: "repeat(2, minmax(0, 1fr))" },
            pt: 1,
          }}
        >
          {panes.map(([name, look, onLook]) => (
            <section key={name} aria-label={`${name} preview`}>
              <PreviewPane
                message={message}
                edits={edits}
                look={look}
                onLook={onLook}
                around={360}
              />
            </section>
          ))}
        </Box>
      </DialogContent>
      <DialogActions>
        <Button onClick={onClose}>Close</Button>
      </DialogActions>
    </Dialog>
  );
}
