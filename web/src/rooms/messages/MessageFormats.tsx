import MenuItem from "@mui/material/MenuItem";
import Dialog from "@mui/material/Dialog";
import DialogActions from "@mui/material/DialogActions";
import DialogContent from "@mui/material/DialogContent";
import DialogTitle from "@mui/material/DialogTitle";
import Button from "@mui/material/Button";
import Typography from "@mui/material/Typography";
import { useRef, useState, type ReactNode } from "react";
import { api, ApiError, asIs, take, type Schemas } from "../../api/client";
import { useSlug } from "../../api/workspace";
import { MissingThings } from "../../parts/MissingThings";
import { MoreMenu } from "../../parts/MoreMenu";
import { ReplacesDraft } from "../../parts/ReplacesDraft";

type Message = Schemas["MessageOut"];
const OUT: [string, string][] = [
  ["document.json", "Download as JSON"],
  ["export/mjml", "Download as MJML"],
  ["export/html", "Download as HTML"],
  ["export/eml", "Download as an email (EML)"],
];

interface MessageFormatsProps {
  message: Message;
  onTaken: (message: Message) => void;
  onLoad: () => Promise<void>;
  more: (close: () => void) => ReactNode;
}

/** The message out as a file, and a file in as its draft; what was left out is said. */
export function MessageFormats({ message, onTaken, onLoad, more }: MessageFormatsProps) {
  const workspace = useSlug();
  const file = useRef<HTMLInputElement>(null);
  const [waiting, setWaiting] = useState<File>();
  const [report, setReport] = useState<{
    title: string;
    lines: string[];
    missing?: Schemas["Reference"][];
  }>();
  const path = { workspace, message: message.id };
  const at = `/api/workspaces/${workspace}/messages/${message.id}`;
  const put = async (chosen: File) => {
    const form = chosen.name.split(".").pop()?.toLowerCase() ?? "";
    try {
      if (form === "json") {
        const taken = await take(
          api.PUT("/api/workspaces/{workspace}/messages/{message}/document.json", {
            params: { path },
            ...asIs(await chosen.text(), "application/json"),
          }),
        );
        await onLoad();
        if (taken.missing.length) {
          setReport({ title: "The message is here", lines: [], missing: taken.missing });
        }
        return;
      }
      const taken = await take(
        api.POST("/api/workspaces/{workspace}/messages/{message}/import/{form}", {
          params: { path: { ...path, form: form === "htm" ? "html" : form } },
          ...asIs(chosen, "application/octet-stream"),
        }),
      );
      onTaken(taken.message);
      setReport({
        title: "The message is here",
        lines: taken.left_out.length ? ["Left out:", ...taken.left_out] : ["Nothing was left out."],
      });
    } catch (error) {
      const lines =
        error instanceof ApiError && error.wrongs.length
          ? error.wrongs.map((one) => `${one.sentence} ${one.fix}`)
          : [error instanceof Error ? error.message : "It did not work."];
      setReport({ title: "The file was not taken", lines });
    }
  };
  return (
    <>
      <MoreMenu>
        {(close) => [
          more(close),
          ...OUT.map(([where, words]) => (
            <MenuItem key={where} component="a" href={`${at}/${where}`} download onClick={close}>
              {words}
            </MenuItem>
          )),
          <MenuItem key="in" onClick={() => (close(), file.current?.click())}>
            Upload a file (JSON, MJML, HTML, EML)
          </MenuItem>,
        ]}
      </MoreMenu>
      <input
        ref={file}
        type="file"
        accept=".json,.mjml,.html,.htm,.eml"
        aria-label="A message as a file"
        hidden
        onChange={(event) => {
          const chosen = event.target.files?.[0];
          event.target.value = "";
          if (chosen && (message.differs || message.document.blocks.length > 0)) setWaiting(chosen);
          else if (chosen) void put(chosen);
        }}
      />
      <ReplacesDraft
        open={waiting !== undefined}
        what={`The message in ${waiting?.name ?? "the file"}`}
        changes={message.changes}
        onClose={() => setWaiting(undefined)}
        onReplace={() => {
          if (waiting) void put(waiting);
          setWaiting(undefined);
        }}
      />
      <Dialog
        open={report !== undefined}
        onClose={() => setReport(undefined)}
        fullWidth
        maxWidth="xs"
      >
        <DialogTitle>{report?.title}</DialogTitle>
        <DialogContent>
          {report?.lines.map((one) => (
            <Typography key={one} variant="body2">
              {one}
            </Typography>
          ))}
          {report?.missing && <MissingThings missing={report.missing} />}
        </DialogContent>
        <DialogActions>
          <Button onClick={() => setReport(undefined)}>Close</Button>
        </DialogActions>
      </Dialog>
    </>
  );
}
