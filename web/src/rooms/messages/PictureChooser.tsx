import { useAttempt } from "../../api/useAttempt";
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Dialog from "@mui/material/Dialog";
import DialogActions from "@mui/material/DialogActions";
import DialogContent from "@mui/material/DialogContent";
import DialogTitle from "@mui/material/DialogTitle";
import Typography from "@mui/material/Typography";
import { useRef } from "react";
import type { Schemas } from "../../api/client";
import { Problem } from "../../parts/Problem";
import { usePictures } from "./usePictures";

interface PictureChooserProps {
  onClose: () => void;
  onChoose: (picture: Schemas["PictureOut"]) => void;
}

/** A picture of the library, or a new one from a file. */
export function PictureChooser({ onClose, onChoose }: PictureChooserProps) {
  const { pictures, add } = usePictures();
  const { attempt, failed } = useAttempt();
  const file = useRef<HTMLInputElement>(null);
  const upload = async (chosen: File) => {
    await attempt(async () => {
      onChoose(await add(chosen));
    });
  };
  return (
    <Dialog
      open
      onClose={onClose}
      fullWidth
      maxWidth="md"
      onClick={(event) => event.stopPropagation()}
    >
      <DialogTitle>Choose a picture</DialogTitle>
      <DialogContent>
        <Problem error={failed} />
        {pictures.length === 0 && (
          <Typography variant="body2" color="textSecondary">
            There are no pictures yet. A PNG, JPEG or WebP of 1,500 pixels in width is sharp on
            every screen.
          </Typography>
        )}
        <Box
          sx={{
            display: "grid",
            gridTemplateColumns: "repeat(auto-fill, minmax(150px, 1fr))",
            gap: 2,
          }}
        >
          {pictures.map((one) => (
            <Box
              key={one.id}
              component="button"
              type="button"
              onClick={() => onChoose(one)}
              sx={{
                border: 1,
                borderColor: "divider",
                bgcolor: "background.paper",
                color: "text.primary",
                font: "inherit",
                textAlign: "left",
                p: 1,
                cursor: "pointer",
                "&:hover, &:focus-visible": { borderColor: "primary.main" },
              }}
            >
              <Box
                component="img"
                src={one.address}
                alt=""
                sx={{ display: "block", width: "100%", height: 96, objectFit: "contain" }}
              />
              <Typography variant="body2" sx={{ mt: 0.5 }}>
                {one.name}
              </Typography>
              <Typography variant="caption" color="textSecondary">
                {one.width} × {one.height}
              </Typography>
            </Box>
          ))}
        </Box>
      </DialogContent>
      <DialogActions>
        <Button onClick={onClose}>Cancel</Button>
        <Button variant="contained" onClick={() => file.current?.click()}>
          Add a picture
        </Button>
        <input
          ref={file}
          type="file"
          accept="image/png,image/jpeg,image/webp"
          aria-label="A picture as a file"
          hidden
          onChange={(event) => {
            const chosen = event.target.files?.[0];
            event.target.value = "";
            if (chosen) void upload(chosen);
          }}
        />
      </DialogActions>
    </Dialog>
  );
}
