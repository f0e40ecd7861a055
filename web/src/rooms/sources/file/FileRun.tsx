import { counted, number } from "../../../parts/formats";
import Button from "@mui/material/Button";
import FormControlLabel from "@mui/material/FormControlLabel";
import LinearProgress from "@mui/material/LinearProgress";
import Radio from "@mui/material/Radio";
import RadioGroup from "@mui/material/RadioGroup";
import Stack from "@mui/material/Stack";
import TextField from "@mui/material/TextField";
import Typography from "@mui/material/Typography";
import { useState } from "react";
import { Link as RouterLink } from "react-router";
import { useSlug } from "../../../api/workspace";
import { TallyLine } from "./TallyLine";
import { isWorking, type FileOut } from "./useFiles";

const WORKING: Partial<Record<string, string>> = { reading: "Reading", counting: "Checking" };

interface FileRunProps {
  file: FileOut;
  /** Whether the sheet would subscribe people to a list. */
  subscribes: boolean;
  readOnly: boolean;
  onAct: (what: "count" | "cancel" | "go-on") => Promise<void>;
  onRun: (consent: string) => Promise<void>;
}

/** Counting what a file would do, the consent its people gave, running it, and how far it is. */
export function FileRun({ file, subscribes, readOnly, onAct, onRun }: FileRunProps) {
  const at = `/w/${useSlug()}`;
  const [agreed, setAgreed] = useState<"yes" | "no">();
  const [wording, setWording] = useState("");
  const total = file.rows;
  if (isWorking(file)) {
    const share = total ? Math.min(100, (file.done / total) * 100) : undefined;
    return (
      <Stack spacing={1} sx={{ py: 0.5 }}>
        <Typography role="status">
          {WORKING[file.state] ?? "Importing"}: {number(file.done)}
          {file.state === "running" && total > 0 && ` of ${number(total)}`} rows. You can leave this
          page.
        </Typography>
        <LinearProgress
          aria-label="Progress"
          {...(share !== undefined && file.state === "running"
            ? { variant: "determinate", value: share }
            : {})}
        />
        <div>
          <Button onClick={() => void onAct("cancel")}>Stop</Button>
        </div>
      </Stack>
    );
  }
  if (file.state === "done" || file.state === "cancelled" || file.state === "failed") {
    return (
      <Stack spacing={0.5} sx={{ py: 0.5 }}>
        <Typography>
          {file.state === "done"
            ? "Imported."
            : file.state === "failed"
              ? `Stopped: ${file.failure}`
              : `Stopped after ${counted(file.done, "row", "rows")}. What was imported stays.`}
        </Typography>
        <TallyLine tally={file.tally} done />
        <Stack direction="row" spacing={2} sx={{ alignItems: "center" }}>
          {file.state !== "done" && !readOnly && (
            <Button variant="outlined" onClick={() => void onAct("go-on")}>
              Continue from row {file.done + 1}
            </Button>
          )}
          <Typography variant="body2">
            <RouterLink to={`${at}/submissions?file_import=${file.id}`}>Submissions</RouterLink>
          </Typography>
          {file.tally.refused > 0 && (
            <Typography variant="body2">
              <a href={`/api/workspaces/${at.slice(3)}/files/${file.id}/refused.csv`} download>
                Refused rows (CSV), to fix and import again
              </a>
            </Typography>
          )}
        </Stack>
      </Stack>
    );
  }
  if (file.state === "arriving") {
    return (
      <Typography variant="body2">The upload is not complete. Choose the file again.</Typography>
    );
  }
  const mayRun = agreed === "no" || (agreed === "yes" && wording.trim() !== "") || !subscribes;
  return (
    <Stack spacing={1} sx={{ py: 0.5 }}>
      {file.forecast && file.state === "counted" ? (
        <>
          <Typography variant="h3" component="h3">
            What the import would do
          </Typography>
          <TallyLine tally={file.forecast} done={false} />
        </>
      ) : (
        <Typography variant="body2" color="textSecondary">
          Map the columns below, then check what the import would do. A check saves nothing.
        </Typography>
      )}
      {!readOnly && (
        <div>
          <Button variant="outlined" onClick={() => void onAct("count")}>
            {file.state === "counted" ? "Check again" : "Check the import"}
          </Button>
        </div>
      )}
      {file.state === "counted" && !readOnly && (
        <>
          {subscribes && (
            <>
              <RadioGroup
                aria-label="What these people agreed to"
                value={agreed ?? ""}
                onChange={(_, value) => setAgreed(value as "yes" | "no")}
              >
                <FormControlLabel
                  value="no"
                  control={<Radio size="small" />}
                  label="They did not agree: save them, but subscribe nobody"
                />
                <FormControlLabel
                  value="yes"
                  control={<Radio size="small" />}
                  label="They agreed to the list above. Nobody who left it is subscribed again"
                />
              </RadioGroup>
              {agreed === "yes" && (
                <TextField
                  label="What they agreed to, where and when (kept as evidence)"
                  placeholder="Ticked “Send me the news” on paper at the open night of 3 May"
                  multiline
                  value={wording}
                  onChange={(event) => setWording(event.target.value)}
                />
              )}
            </>
          )}
          <div>
            <Button
              variant="contained"
              disabled={!mayRun || file.rows === (file.forecast?.refused ?? 0)}
              onClick={() => void onRun(agreed === "yes" ? wording : "")}
            >
              {file.forecast?.refused
                ? `Import ${counted(file.rows - file.forecast.refused, "row", "rows")}, skip ${number(file.forecast.refused)} refused`
                : `Import ${counted(file.rows, "row", "rows")}`}
            </Button>
          </div>
          <Typography variant="caption" color="textSecondary">
            The import uses this sheet as it is now, and turns it on.
          </Typography>
        </>
      )}
    </Stack>
  );
}
