import { counted, number } from "../../parts/formats";
import { useAttempt } from "../../api/useAttempt";
import Button from "@mui/material/Button";
import MenuItem from "@mui/material/MenuItem";
import Stack from "@mui/material/Stack";
import TextField from "@mui/material/TextField";
import Typography from "@mui/material/Typography";
import { api, asIs, take, type Schemas } from "../../api/client";
import { useSlug } from "../../api/workspace";
import { Band, BandRow } from "../../parts/Band";
import { Problem } from "../../parts/Problem";

type Message = Schemas["MessageOut"];

interface MessageFilesProps {
  message: Message;
  readOnly: boolean;
  onChange: (message: Message) => void;
}

/** The files that a message brings: attached, or behind a link that runs out. */
export function MessageFiles({ message, readOnly, onChange }: MessageFilesProps) {
  const workspace = useSlug();
  const { attempt, failed, busy } = useAttempt();
  const path = { workspace, message: message.id };
  const act = async (asked: Promise<Message>) => {
    await attempt(async () => {
      onChange(await asked);
    });
  };
  const put = (file: File) =>
    act(
      take(
        api.POST("/api/workspaces/{workspace}/messages/{message}/files", {
          params: {
            path,
            query: { name: file.name, attached: message.files.some((one) => !one.attached) },
          },
          ...asIs(file, file.type || "application/octet-stream"),
        }),
      ),
    );
  const set = (kept: string, attached: boolean, days: number) =>
    act(
      take(
        api.PUT("/api/workspaces/{workspace}/messages/{message}/files/{kept}", {
          params: { path: { ...path, kept } },
          body: { attached, days },
        }),
      ),
    );
  const takeOut = (kept: string) =>
    act(
      take(
        api.DELETE("/api/workspaces/{workspace}/messages/{message}/files/{kept}", {
          params: { path: { ...path, kept } },
        }),
      ),
    );
  return (
    <Band name="Files" note={message.files.length ? "" : "none"}>
      {message.files.map((one, index) => (
        <BandRow key={one.id} ruled={index > 0}>
          <Stack
            direction="row"
            spacing={1.5}
            useFlexGap
            sx={{ alignItems: "center", flexWrap: "wrap", pt: 1 }}
          >
            <Typography sx={{ overflowWrap: "anywhere" }}>
              {one.name}{" "}
              <Typography component="span" variant="body2" color="textSecondary">
                {size(one.size)}
              </Typography>
            </Typography>
            <TextField
              select
              label="How it comes"
              value={one.attached ? "attached" : "linked"}
              disabled={readOnly || busy}
              onChange={(event) => void set(one.id, event.target.value === "attached", one.days)}
              sx={{ width: 130 }}
              slotProps={{ select: { "aria-label": `How ${one.name} comes` } as object }}
            >
              <MenuItem value="linked">by a link</MenuItem>
              <MenuItem value="attached">attached</MenuItem>
            </TextField>
            {!one.attached && (
              <TextField
                select
                label="The link works for"
                value={String(one.days)}
                disabled={readOnly || busy}
                onChange={(event) => void set(one.id, false, Number(event.target.value))}
                sx={{ width: 130 }}
                slotProps={{
                  select: { "aria-label": `How long the link to ${one.name} works` } as object,
                }}
              >
                {[...new Set([1, 3, 7, 14, 30, 90, 365, one.days])]
                  .sort((a, b) => a - b)
                  .map((days) => (
                    <MenuItem key={days} value={String(days)}>
                      {counted(days, "day", "days")}
                    </MenuItem>
                  ))}
              </TextField>
            )}
            {!readOnly && (
              <Button color="inherit" disabled={busy} onClick={() => void takeOut(one.id)}>
                Remove
              </Button>
            )}
          </Stack>
        </BandRow>
      ))}
      {!readOnly && (
        <Stack direction="row" spacing={1.5} sx={{ pl: 1.5, pt: 1, alignItems: "center" }}>
          <Button component="label" disabled={busy}>
            Attach a file
            <input
              type="file"
              hidden
              aria-label="A file for this message"
              onChange={(event) => {
                const file = event.target.files?.[0];
                event.target.value = "";
                if (file) void put(file);
              }}
            />
          </Button>
          {message.files.some((one) => !one.attached) && (
            <Typography variant="body2" color="textSecondary">
              The link: mark words in the text, press Link, then “To the file”.
            </Typography>
          )}
        </Stack>
      )}
      <Problem error={failed} />
    </Band>
  );
}

function size(bytes: number): string {
  if (bytes < 1024 * 1024) return `${Math.max(1, Math.round(bytes / 1024))} kB`;
  return `${number(bytes / 1024 / 1024, 1)} MB`;
}
