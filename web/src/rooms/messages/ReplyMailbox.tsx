import { useAttempt } from "../../api/useAttempt";
import Button from "@mui/material/Button";
import Stack from "@mui/material/Stack";
import Typography from "@mui/material/Typography";
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { mailboxQuery } from "../../api/messages";
import { api, take } from "../../api/client";
import { useMayChange, useReload, useSlug } from "../../api/workspace";
import { MailboxForm } from "./MailboxForm";
import { Band } from "../../parts/Band";
import { useMoments } from "../../parts/moment";
import { Problem } from "../../parts/Problem";

/** The mailbox where replies arrive, so that they are seen here too. */
export function ReplyMailbox() {
  const workspace = useSlug();
  const moments = useMoments();
  const mayChange = useMayChange();
  const reload = useReload();
  const { attempt, failed, busy, dismiss } = useAttempt();
  const [editing, setEditing] = useState(false);
  const { data } = useQuery(mailboxQuery(workspace));
  const act = async (asked: () => Promise<unknown>) => {
    await attempt(async () => {
      await asked();
      await reload("reply-mailbox", "delivery");
    });
  };
  const path = { workspace };
  return (
    <Band name="Replies" note="read every two minutes, never changed">
      <Problem error={failed} onDismiss={dismiss} />
      {data && !editing && (
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
              <Button onClick={() => setEditing(true)}>Edit</Button>
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
      {data === null && !editing && (
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
            <Button variant="outlined" onClick={() => setEditing(true)}>
              Set the mailbox
            </Button>
          )}
        </Stack>
      )}
      {data !== undefined && editing && (
        <MailboxForm stored={data} onClose={() => setEditing(false)} />
      )}
    </Band>
  );
}
