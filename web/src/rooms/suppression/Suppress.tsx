import { counted } from "../../parts/formats";
import { useAttempt } from "../../api/useAttempt";
import Button from "@mui/material/Button";
import Dialog from "@mui/material/Dialog";
import DialogActions from "@mui/material/DialogActions";
import DialogContent from "@mui/material/DialogContent";
import DialogTitle from "@mui/material/DialogTitle";
import Stack from "@mui/material/Stack";
import TextField from "@mui/material/TextField";
import Typography from "@mui/material/Typography";
import { useState } from "react";
import { api, take, type Schemas } from "../../api/client";
import { useReload, useSlug } from "../../api/workspace";
import { Problem } from "../../parts/Problem";
import { linesOf } from "./linesOf";

const AT_ONCE = 5000;

/** Puts addresses and domains on the suppression list: typed, pasted, or from a file of lines. */
export function Suppress({ onClose }: { onClose: () => void }) {
  const workspace = useSlug();
  const reload = useReload();
  const [text, setText] = useState("");
  const [reason, setReason] = useState("");
  const [found, setFound] = useState<Schemas["SuppressOut"]>();
  const { attempt, failed } = useAttempt();
  const lines = linesOf(text);
  const count = lines.filter(Boolean).length;
  const put = async () => {
    await attempt(async () => {
      const sum: Schemas["SuppressOut"] = { added: 0, problems: [] };
      for (let at = 0; at < lines.length; at += AT_ONCE) {
        const answer = await take(
          api.POST("/api/workspaces/{workspace}/suppression", {
            params: { path: { workspace } },
            body: { lines: lines.slice(at, at + AT_ONCE), reason },
          }),
        );
        sum.added += answer.added;
        for (const one of answer.problems) {
          sum.problems.push({ ...one, place: String(Number(one.place) + at) });
        }
      }
      await reload("suppression");
      if (sum.problems.length) setFound(sum);
      else onClose();
    });
  };
  return (
    <Dialog open onClose={onClose} fullWidth maxWidth="sm">
      <DialogTitle>Add to the suppression list</DialogTitle>
      <DialogContent>
        <Stack spacing={2} sx={{ pt: 1 }}>
          <TextField
            autoFocus
            label="Addresses, or domains like @example.org, one on each line"
            multiline
            minRows={4}
            maxRows={12}
            value={text}
            onChange={(event) => setText(event.target.value)}
          />
          <Button component="label" variant="outlined" sx={{ alignSelf: "flex-start" }}>
            From a file of lines
            <input
              hidden
              type="file"
              accept=".csv,.txt,text/plain,text/csv"
              onChange={(event) => void event.target.files?.[0]?.text().then(setText)}
            />
          </Button>
          <TextField
            label="Reason"
            value={reason}
            onChange={(event) => setReason(event.target.value)}
            helperText="Kept with each: “asked by phone”, “hard bounces of the old provider”"
          />
          {found && (
            <div>
              <Typography>
                {found.added} added; {counted(found.problems.length, "line is", "lines are")}{" "}
                neither an address nor a domain:
              </Typography>
              {found.problems.slice(0, 8).map((one) => (
                <Typography key={one.place} variant="body2" color="error">
                  Line {one.place}: {one.sentence}
                </Typography>
              ))}
            </div>
          )}
        </Stack>
        <Problem error={failed} />
      </DialogContent>
      <DialogActions>
        <Button onClick={onClose}>{found ? "Done" : "Cancel"}</Button>
        <Button variant="contained" disabled={count === 0} onClick={() => void put()}>
          Add {counted(count, "entry", "entries")}
        </Button>
      </DialogActions>
    </Dialog>
  );
}
