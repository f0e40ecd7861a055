import Button from "@mui/material/Button";
import Menu from "@mui/material/Menu";
import MenuItem from "@mui/material/MenuItem";
import { useRef, useState, type ReactNode } from "react";

interface DocumentFileProps {
  /** Where the document comes from as a file. */
  address: string;
  readOnly: boolean;
  onFile: (content: string) => Promise<void>;
  /** What else is in the menu, before the files; `close` closes it. */
  more?: (close: () => void) => ReactNode;
}

/** A menu of what is done with a document now and then: taking it out and putting one in. */
export function DocumentFile({ address, readOnly, onFile, more }: DocumentFileProps) {
  const [anchor, setAnchor] = useState<HTMLElement | null>(null);
  const file = useRef<HTMLInputElement>(null);
  const close = () => setAnchor(null);
  return (
    <>
      <Button
        aria-haspopup="menu"
        aria-expanded={anchor !== null}
        onClick={(event) => setAnchor(event.currentTarget)}
      >
        More
      </Button>
      <Menu anchorEl={anchor} open={anchor !== null} onClose={close}>
        {more?.(close)}
        <MenuItem component="a" href={address} download onClick={close}>
          Get this sheet as a file (JSON)
        </MenuItem>
        {!readOnly && (
          <MenuItem
            onClick={() => {
              close();
              file.current?.click();
            }}
          >
            Put a sheet in from a file
          </MenuItem>
        )}
      </Menu>
      <input
        ref={file}
        type="file"
        accept="application/json,.json"
        aria-label="A sheet as a file"
        hidden
        onChange={(event) => {
          const chosen = event.target.files?.[0];
          event.target.value = "";
          if (chosen) void chosen.text().then(onFile);
        }}
      />
    </>
  );
}
