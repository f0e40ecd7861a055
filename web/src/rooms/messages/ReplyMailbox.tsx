import { useAttempt } from "../../api/useAttempt";
import Button from "@mui/material/Button";
import Stack from "@mui/material/Stack";
import TextField from "@mui/material/TextField";
import Typography from "@mui/material/Typography";
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { mailboxQuery } from "../../api/messages";
import { api, take } from "../../api/client";
import { useMayChange, useReload, useSlug } from "../../api/workspace";
import { Band } from "../../parts/Band";
import { useMoments } from "../../parts/moment";
import { NumberField } from "../../parts/NumberField";
import { Problem } from "../../parts/Problem";

/** The mailbox where replies arrive, so that they are seen here too. */
export function ReplyMailbox() {
  const workspace = useSlug();
  const moments = useMoments();
  const mayChange = useMayChange();
  const reload = useReload();
  const { attempt, failed, busy, dismiss } = useAttempt();
  const [form, setForm] = useState<{
    host: string;
    port: number;
    user: string;
    password: string;
  }>();
  const { data } = useQuery(mailboxQuery(workspace));
  const act = async (asked: () => Promise<unknown>) => {
    await attempt(async () => {
      await asked();
      await reload("reply-mailbox", "delivery");
      setForm(undefined);
    });
  };
  const path = { workspace };
  return (
    <Band name="Replies" note="read every two minutes, never changed">
      <Problem error={failed} onDismiss={dismiss} />
      {data && !form && (
        <Stack
          direction="row"
          spacing={1}
          useFlexGap
          sx={{ alignItems: "center", flexWrap: "wrap" }}
        >
          <Typography variant="body2">
            {data.user} at {data.host}, folder {data.folder}
            {data.checked_at && `, read ${moments.moment(data.checked_at)}`}
          </Typography>
          {data.problem && (
            <Typography variant="body2" color="error">
              {data.problem}
            </Typography>
          )}
          {mayChange && (
            <>
              <Button
                disabled={busy}
                onClick={() =>
                  void act(() =>
                    take(
                      api.POST("/api/workspaces/{workspace}/mail/mailbox/look", {
                        params: { path },
                      }),
                    ),
                  )
                }
              >
                Read now
              </Button>
              <Button
                onClick={() =>
                  setForm({ host: data.host, port: data.port, user: data.user, password: "" })
                }
              >
                Edit
              </Button>
              <Button
                color="inherit"
                onClick={() =>
                  void act(() =>
                    take(
                      api.DELETE("/api/workspaces/{workspace}/mail/mailbox", { params: { path } }),
                    ),
                  )
                }
              >
                Remove
              </Button>
            </>
          )}
        </Stack>
      )}
      {data === null && !form && (
        <Stack
          direction="row"
          spacing={1}
          useFlexGap
          sx={{ alignItems: "center", flexWrap: "wrap" }}
        >
          <Typography variant="body2" color="textSecondary">
            Replies are not read. With the mailbox they go to, each becomes the event “replied”.
          </Typography>
          {mayChange && (
            <Button
              variant="outlined"
              onClick={() => setForm({ host: "", port: 993, user: "", password: "" })}
            >
              Set the mailbox
            </Button>
          )}
        </Stack>
      )}
      {form && (
        <Stack direction="row" spacing={1.5} useFlexGap sx={{ flexWrap: "wrap" }}>
          <TextField
            autoFocus
            label="IMAP server"
            placeholder="imap.example.org"
            value={form.host}
            onChange={(event) => setForm({ ...form, host: event.target.value })}
            sx={{ width: 220 }}
          />
          <NumberField
            label="Port (TLS)"
            value={form.port}
            min={1}
            max={65535}
            onChange={(port) => setForm({ ...form, port })}
            sx={{ width: 110 }}
          />
          <TextField
            label="User"
            value={form.user}
            autoComplete="off"
            onChange={(event) => setForm({ ...form, user: event.target.value })}
            sx={{ width: 200 }}
          />
          <TextField
            type="password"
            label={data ? "Password (empty: as before)" : "Password"}
            value={form.password}
            autoComplete="new-password"
            onChange={(event) => setForm({ ...form, password: event.target.value })}
            sx={{ width: 220 }}
          />
          <Button onClick={() => setForm(undefined)}>Cancel</Button>
          <Button
            variant="contained"
            disabled={busy}
            onClick={() =>
              void act(() =>
                take(
                  api.PUT("/api/workspaces/{workspace}/mail/mailbox", {
                    params: { path },
                    body: { ...form, folder: "INBOX" },
                  }),
                ),
              )
            }
          >
            Save
          </Button>
        </Stack>
      )}
    </Band>
  );
}
