import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Dialog from "@mui/material/Dialog";
import DialogActions from "@mui/material/DialogActions";
import DialogContent from "@mui/material/DialogContent";
import DialogTitle from "@mui/material/DialogTitle";
import MenuItem from "@mui/material/MenuItem";
import Stack from "@mui/material/Stack";
import TextField from "@mui/material/TextField";
import Typography from "@mui/material/Typography";
import { useEffect, useRef, useState } from "react";
import { api, asIs, take, type Schemas } from "../../api/client";
import type { paths } from "../../api/schema";
import { useAttempt } from "../../api/useAttempt";
import { useReload, useSlug } from "../../api/workspace";
import { counted } from "../../parts/formats";
import { Problem } from "../../parts/Problem";
import { SeriesEmailRow } from "./SeriesEmailRow";
import type { SequenceDocument } from "./sequenceDocument";
import { hasEmails, type OfSeries } from "./series";

type Email = Schemas["SeriesEmail"];
type Form = paths["/api/workspaces/{workspace}/series/read"]["post"]["parameters"]["query"]["form"];

interface SeriesDialogProps {
  document: SequenceDocument;
  /** The lane that is proposed. */
  lane: string;
  /** A file that was dropped on the sheet. */
  file?: File | undefined;
  onAdd: (lane: string, emails: OfSeries[]) => void;
  onClose: () => void;
}

/** The endings of the files that can be read. */
const ENDINGS: Form[] = ["txt", "md", "docx", "odt"];

const toggled = (all: ReadonlySet<number>, one: number) =>
  new Set(all.has(one) ? [...all].filter((other) => other !== one) : [...all, one]);

/** A series of emails that was written elsewhere, in one text: read, looked over, then made into messages
 * and steps. */
export function SeriesDialog({
  document,
  lane: proposed,
  file,
  onAdd,
  onClose,
}: SeriesDialogProps) {
  const workspace = useSlug();
  const reload = useReload();
  const [lane, setLane] = useState(() => proposed);
  const [text, setText] = useState("");
  const [emails, setEmails] = useState<Email[]>();
  const [left, setLeft] = useState<ReadonlySet<number>>(new Set());
  const [leftOut, setLeftOut] = useState<string[]>([]);
  const { attempt, failed, busy } = useAttempt();
  const follows = hasEmails(document, lane);
  const read = (form: Form, content: Blob | string) =>
    attempt(async () => {
      const found = await take(
        api.POST("/api/workspaces/{workspace}/series/read", {
          params: { path: { workspace }, query: { form } },
          ...asIs(content, "application/octet-stream"),
        }),
      );
      // Not at once after an email that is there already.
      const later = follows && found.emails[0]?.day === 0 ? 1 : 0;
      setEmails(found.emails.map((one) => ({ ...one, day: one.day + later })));
      setLeft(new Set());
      setLeftOut(found.left_out);
    });
  const readFile = (chosen: File | undefined) => {
    if (!chosen) return;
    const ending = chosen.name.split(".").pop()?.toLowerCase();
    const form = ENDINGS.find((one) => one === ending);
    if (form) void read(form, chosen);
    else
      void attempt(() =>
        Promise.reject(
          new Error(`“${chosen.name}” cannot be read. Choose a DOCX, ODT, Markdown or text file.`),
        ),
      );
  };
  const dropped = useRef(file);
  useEffect(() => {
    readFile(dropped.current);
    dropped.current = undefined;
  });
  const taken = emails?.filter((_, index) => !left.has(index)) ?? [];
  const add = () =>
    attempt(async () => {
      const made = await take(
        api.POST("/api/workspaces/{workspace}/series", {
          params: { path: { workspace } },
          body: { emails: taken },
        }),
      );
      onAdd(
        lane,
        made.messages.map((message, index) => ({ message, day: taken[index]?.day ?? 0 })),
      );
      await reload("catalogue", "messages");
      onClose();
    });
  const change = (index: number, changed: Partial<Email>) =>
    setEmails(emails?.map((one, at) => (at === index ? { ...one, ...changed } : one)));
  return (
    <Dialog
      open
      onClose={onClose}
      fullWidth
      maxWidth="md"
      onDragOver={(event) => event.preventDefault()}
      onDrop={(event) => {
        event.preventDefault();
        readFile(event.dataTransfer.files[0]);
      }}
    >
      <DialogTitle>Add emails from a text</DialogTitle>
      <DialogContent>
        {!emails ? (
          <Stack spacing={1.5}>
            <Typography variant="body2">
              Every heading starts a new email. Below a heading you can add “Subject: …”,
              “Preheader: …” or “Wait: 3 days”. “Day 5” in a heading sets the day of the series.
            </Typography>
            <TextField
              autoFocus
              label="Paste the text"
              multiline
              fullWidth
              sx={{ maxWidth: "none" }}
              minRows={9}
              maxRows={18}
              value={text}
              placeholder={
                "# Day 0: Your guide\nSubject: Here is your guide\n\nHello …\n\n# Day 2: Which one fits"
              }
              onChange={(event) => setText(event.target.value)}
            />
            <div>
              <Button component="label" variant="outlined" disabled={busy}>
                Choose a file
                <input
                  hidden
                  type="file"
                  accept={ENDINGS.map((one) => `.${one}`).join()}
                  onChange={(event) => {
                    readFile(event.target.files?.[0]);
                    event.target.value = "";
                  }}
                />
              </Button>{" "}
              <Typography variant="caption" color="textSecondary">
                or drop one here: DOCX, ODT, Markdown or plain text
              </Typography>
            </div>
          </Stack>
        ) : (
          <>
            <Typography variant="body2" color="textSecondary">
              {follows
                ? "Days count from the last email of the lane."
                : "Days count from when people enter the lane."}
            </Typography>
            {emails.map((email, index) => (
              <SeriesEmailRow
                key={index}
                email={email}
                taken={!left.has(index)}
                onTake={() => setLeft(toggled(left, index))}
                onChange={(changed) => change(index, changed)}
              />
            ))}
            {leftOut.length > 0 && (
              <Box sx={{ mt: 1.5 }}>
                <Typography variant="body2" sx={{ fontWeight: 600 }}>
                  Not in any email
                </Typography>
                {leftOut.map((one) => (
                  <Typography key={one} variant="body2" color="textSecondary">
                    {one}
                  </Typography>
                ))}
              </Box>
            )}
            {document.lanes.length > 1 && (
              <TextField
                select
                label="At the end of lane"
                value={lane}
                sx={{ mt: 2, width: 260 }}
                onChange={(event) => setLane(event.target.value)}
              >
                {document.lanes.map((one) => (
                  <MenuItem key={one.id} value={one.id}>
                    {one.name}
                  </MenuItem>
                ))}
              </TextField>
            )}
          </>
        )}
        <Problem error={failed} />
      </DialogContent>
      <DialogActions>
        <Button onClick={onClose}>Cancel</Button>
        {emails ? (
          <>
            <Button onClick={() => setEmails(undefined)}>Back to the text</Button>
            <Button
              variant="contained"
              disabled={busy || taken.length === 0}
              onClick={() => void add()}
            >
              Add {counted(taken.length, "email", "emails")}
            </Button>
          </>
        ) : (
          <Button
            variant="contained"
            disabled={busy || !text.trim()}
            onClick={() => void read("md", text)}
          >
            Read the text
          </Button>
        )}
      </DialogActions>
    </Dialog>
  );
}
