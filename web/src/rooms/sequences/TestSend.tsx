import { useAttempt } from "../../api/useAttempt";
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Typography from "@mui/material/Typography";
import { useState } from "react";
import { api, take, type Schemas } from "../../api/client";
import { useSlug } from "../../api/workspace";
import { counted } from "../../parts/moment";
import { Problem } from "../../parts/Problem";
import { bodyOf, type RehearsalAsked } from "./rehearsal";

/** Sends the member every email of the rehearsal, to their own inbox. */
export function TestSend({ sequence, asked }: { sequence: string; asked: RehearsalAsked }) {
  const workspace = useSlug();
  const [done, setDone] = useState<Schemas["TrialOut"]>();
  const { attempt, failed, busy } = useAttempt();
  const send = async () => {
    await attempt(async () => {
      setDone(
        await take(
          api.POST("/api/workspaces/{workspace}/sequences/{sequence}/test", {
            params: { path: { workspace, sequence } },
            body: bodyOf(asked),
          }),
        ),
      );
    });
  };
  return (
    <Box sx={{ mt: 1.5 }}>
      <Button variant="outlined" disabled={busy} onClick={() => void send()}>
        Send all to me
      </Button>
      <Typography variant="body2" role="status" sx={{ mt: 0.5 }}>
        {done && `${counted(done.sent, "test email", "test emails")} sent to ${done.to}.`}
      </Typography>
      {done?.problems.map((one) => (
        <Typography key={one.place + one.code} variant="body2" color="error">
          {one.sentence} {one.fix}
        </Typography>
      ))}
      <Problem error={failed} />
    </Box>
  );
}
