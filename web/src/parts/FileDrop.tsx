import Box from "@mui/material/Box";
import type { ReactNode } from "react";

interface FileDropProps {
  disabled: boolean;
  onFile: (file: File) => void;
  children: ReactNode;
}

/** A part of a sheet that takes a file which is dropped on it. */
export function FileDrop({ disabled, onFile, children }: FileDropProps) {
  return (
    <Box
      sx={{ flex: 1, minWidth: 0 }}
      onDragOver={(event) => event.preventDefault()}
      onDrop={(event) => {
        // Whatever is dropped, the browser does not leave the sheet for it.
        event.preventDefault();
        const [file] = event.dataTransfer.files;
        if (file && !disabled) onFile(file);
      }}
    >
      {children}
    </Box>
  );
}
