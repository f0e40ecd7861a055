import MenuItem from "@mui/material/MenuItem";
import { useRef, useState, type ReactNode } from "react";
import { MoreMenu } from "./MoreMenu";
import { ReplacesDraft } from "./ReplacesDraft";

interface DocumentFileProps {
  /** Where the document comes from as a file. */
  address: string;
  readOnly: boolean;
  /** Whether there is a draft that is not live yet, and what it has different. */
  differs: boolean;
  changes?: string[];
  onFile: (content: string) => Promise<unknown>;
  /** What else is in the menu, before the files; `close` closes it. */
  more?: (close: () => void) => ReactNode;
}

/** A menu of what is done with a document now and then: taking it out and putting one in. */
export function DocumentFile(props: DocumentFileProps) {
  const { address, readOnly, differs, changes, onFile, more } = props;
  const [waiting, setWaiting] = useState<File>();
  const put = (chosen: File) => void chosen.text().then(onFile);
  const file = useRef<HTMLInputElement>(null);
  return (
    <>
      <MoreMenu>
        {(close) => [
          more?.(close),
          <MenuItem key="out" component="a" href={address} download onClick={close}>
            Download this sheet (JSON)
          </MenuItem>,
          !readOnly && (
            <MenuItem
              key="in"
              onClick={() => {
                close();
                file.current?.click();
              }}
            >
              Upload a sheet (JSON)
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
          if (chosen && differs) setWaiting(chosen);
          else if (chosen) put(chosen);
        }}
      />
      <ReplacesDraft
        open={waiting !== undefined}
        what={`The sheet in ${waiting?.name ?? "the file"}`}
        {...(changes && { changes })}
        onClose={() => setWaiting(undefined)}
        onReplace={() => {
          if (waiting) put(waiting);
          setWaiting(undefined);
        }}
      />
    </>
  );
}
