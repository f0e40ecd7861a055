import { counted } from "../../../parts/formats";
import { useAttempt } from "../../../api/useAttempt";
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import LinearProgress from "@mui/material/LinearProgress";
import Typography from "@mui/material/Typography";
import { useState, type DragEvent } from "react";
import { Band, BandRow } from "../../../parts/Band";
import { Problem } from "../../../parts/Problem";
import { useRoute } from "../RouteContext";
import { FileRows } from "./FileRows";
import { FileRun } from "./FileRun";
import { FileShape } from "./FileShape";
import { PastFiles } from "./PastFiles";
import { showsRows, useFiles } from "./useFiles";

/** A file of rows: uploaded, its format corrected, shown as mapped, checked, and run. */
export function ArrivesFile() {
  const { source, document, readOnly, choice } = useRoute();
  const { files, send, shape, act, run } = useFiles(source.id);
  const [sent, setSent] = useState<number>();
  const [over, setOver] = useState(false);
  const { attempt: tryTo, failed } = useAttempt();
  const file = files[0];
  const put = async (chosen: File | null | undefined) => {
    if (!chosen || readOnly) return;
    await tryTo(async () => {
      setSent(0);
      await send(chosen, setSent);
    });
    setSent(undefined);
  };
  const attempt = async (asked: Promise<void>) => {
    await tryTo(async () => {
      await asked;
    });
  };
  const drop = (event: DragEvent) => {
    event.preventDefault();
    setOver(false);
    void put(event.dataTransfer.files[0]);
  };
  return (
    <Band
      name="Arrives"
      id="arrives"
      note={`${counted(source.arrivals.arrived, "row", "rows")} total`}
    >
      {!readOnly && choice && (
        <BandRow>
          <Box
            onDragOver={(event) => {
              event.preventDefault();
              setOver(true);
            }}
            onDragLeave={() => setOver(false)}
            onDrop={drop}
            sx={{
              border: 1,
              borderStyle: "dashed",
              borderColor: over ? "primary.main" : "divider",
              outline: over ? 2 : 0,
              outlineColor: "primary.main",
              p: 2,
            }}
          >
            <Typography variant="body2" sx={{ mb: 1 }}>
              Drop a CSV or an XLSX here, or choose one. Nothing comes in before you have seen what
              it would do.
            </Typography>
            <Button component="label" variant="outlined" disabled={sent !== undefined}>
              Choose a file
              <input
                hidden
                type="file"
                accept=".csv,.tsv,.txt,.xlsx,text/csv"
                onChange={(event) => {
                  void put(event.target.files?.[0]);
                  event.target.value = "";
                }}
              />
            </Button>
            {sent !== undefined && (
              <LinearProgress
                variant="determinate"
                value={sent * 100}
                aria-label="How much of the file is there"
                sx={{ mt: 1 }}
              />
            )}
          </Box>
          <Problem error={failed} />
        </BandRow>
      )}
      {file && choice && (
        <>
          <BandRow ruled>
            <FileShape
              file={file}
              readOnly={readOnly}
              onShape={(changed) => attempt(shape(file.id, changed))}
            />
          </BandRow>
          {showsRows(file) && (
            <BandRow ruled>
              <FileRows file={file} document={document} />
            </BandRow>
          )}
          <BandRow ruled>
            <FileRun
              key={file.id}
              file={file}
              subscribes={document.consent.length > 0}
              readOnly={readOnly}
              onAct={(what) => attempt(act(file.id, what))}
              onRun={(consent) => attempt(run(file.id, consent))}
            />
          </BandRow>
          {files.length > 1 && (
            <BandRow ruled>
              <PastFiles files={files.slice(1)} />
            </BandRow>
          )}
        </>
      )}
    </Band>
  );
}
