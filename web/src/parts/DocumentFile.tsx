import MenuItem from "@mui/material/MenuItem";
import { useRef, type ReactNode } from "react";
import { MoreMenu } from "./MoreMenu";

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
  const file = useRef<HTMLInputElement>(null);
  return (
    <>
      <MoreMenu>
        {(close) => [
          more?.(close),
          <MenuItem key="out" component="a" href={address} download onClick={close}>
            Get this sheet as a file (JSON)
          </MenuItem>,
          !readOnly && (
            <MenuItem
              key="in"
              onClick={() => {
                close();
                file.current?.click();
              }}
            >
              Put a sheet in from a file
            </MenuItem>
          ),
        ]}
      </MoreMenu>
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
