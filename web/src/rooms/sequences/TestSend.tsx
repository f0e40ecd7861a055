import { counted } from "../../parts/formats";
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Typography from "@mui/material/Typography";
import { useState } from "react";
import { api, take, type Schemas } from "../../api/client";
import { useSlug } from "../../api/workspace";
import { ConfirmDialog } from "../../parts/ConfirmDialog";
import { bodyOf, type RehearsalAsked } from "./rehearsal";

interface TestSendProps {
  sequence: string;
  asked: RehearsalAsked;
  /** How many emails the rehearsal has. */
  emails: number;
}

/** Sends the member every email of the rehearsal, to their own inbox, once they said yes to so many. */
export function TestSend({ sequence, asked, emails }: TestSendProps) {
  const workspace = useSlug();
  const [done, setDone] = useState<Schemas["TrialOut"]>();
  const [asking, setAsking] = useState(false);
  const send = async () => {
    setDone(
      await take(
        api.POST("/api/workspaces/{workspace}/sequences/{sequence}/test", {
          params: { path: { workspace, sequence } },
          body: bodyOf(asked),
        }),
      ),
    );
    setAsking(false);
  };
  return (
    <Box sx={{ mt: 1.5 }}>
      <Button variant="outlined" disabled={emails === 0} onClick={() => setAsking(true)}>
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
      {asking && (
        <ConfirmDialog
          title={`Send yourself ${counted(emails, "email", "emails")}?`}
          action="Send"
          onClose={() => setAsking(false)}
          onConfirm={send}
        >
          Each email that this person would get goes to your own address, all of them now.
        </ConfirmDialog>
      )}
    </Box>
  );
}
