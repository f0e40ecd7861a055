import Button from "@mui/material/Button";
import Typography from "@mui/material/Typography";
import { useState } from "react";
import { useNavigate } from "react-router";
import { api, take, type Schemas } from "../../api/client";
import { useAttempt } from "../../api/useAttempt";
import { useReload, useSlug } from "../../api/workspace";
import { ConfirmDialog } from "../../parts/ConfirmDialog";
import { counted } from "../../parts/formats";
import { NameDialog } from "../../parts/NameDialog";
import { Problem } from "../../parts/Problem";

type Broadcast = Schemas["BroadcastOut"];
type Word = "approve" | "take-back" | "call-back" | "pause" | "resume" | "stop";

const ONE = "/api/workspaces/{workspace}/broadcasts/{broadcast}";

/** Does one thing with a broadcast, and takes over what it is then. */
function useActs(broadcast: string) {
  const workspace = useSlug();
  const reload = useReload();
  const path = { workspace, broadcast };
  return async (word: Word) => {
    const params = { path };
    await {
      approve: () => take(api.POST(`${ONE}/approve`, { params })),
      "take-back": () => take(api.POST(`${ONE}/take-back`, { params })),
      "call-back": () => take(api.POST(`${ONE}/call-back`, { params })),
      pause: () => take(api.POST(`${ONE}/pause`, { params })),
      resume: () => take(api.POST(`${ONE}/resume`, { params })),
      stop: () => take(api.POST(`${ONE}/stop`, { params })),
    }[word]();
    await reload("broadcast", "broadcasts", "broadcast-progress");
  };
}

/** What can be done with it now. */
export function Acts({ broadcast, waiting }: { broadcast: Broadcast; waiting: number }) {
  const workspace = useSlug();
  const go = useNavigate();
  const reload = useReload();
  const act = useActs(broadcast.id);
  const { attempt, failed, busy, dismiss } = useAttempt();
  const [asking, setAsking] = useState<"stop" | "again" | "approve">();
  const can = (one: Broadcast["acts"][number]) => broadcast.acts.includes(one);
  const button = (word: Word, label: string, main = false) => (
    <Button
      key={word}
      variant={main ? "contained" : "outlined"}
      disabled={busy}
      onClick={() => void attempt(() => act(word))}
    >
      {label}
    </Button>
  );
  return (
    <>
      <Problem error={failed} onDismiss={dismiss} />
      {can("take_back") && button("take-back", broadcast.mine ? "Take it back" : "Send back")}
      {can("approve") && !broadcast.mine && (
        <Button variant="contained" onClick={() => setAsking("approve")}>
          Approve
        </Button>
      )}
      {can("call_back") && button("call-back", "Call it back", true)}
      {can("pause") && button("pause", "Pause")}
      {can("resume") && button("resume", "Resume", true)}
      {can("stop") && (
        <Button variant="outlined" color="error" onClick={() => setAsking("stop")}>
          Stop
        </Button>
      )}
      {broadcast.state === "done" && !broadcast.again_of && (
        <Button variant="outlined" onClick={() => setAsking("again")}>
          Resend to people who did not open it
        </Button>
      )}
      {asking === "approve" && (
        <ConfirmDialog
          title={`Approve “${broadcast.name}”?`}
          action="Approve"
          onClose={() => setAsking(undefined)}
          onConfirm={async () => {
            await act("approve");
            setAsking(undefined);
          }}
        >
          <Typography>{broadcast.to}.</Typography>
          <Typography variant="body2" sx={{ mt: 1 }}>
            {broadcast.when}. Look at who gets it and at the letter first: they stand on the sheet.
          </Typography>
        </ConfirmDialog>
      )}
      {asking === "stop" && (
        <ConfirmDialog
          title={`Stop “${broadcast.name}”?`}
          action="Stop it"
          destroys
          onClose={() => setAsking(undefined)}
          onConfirm={async () => {
            await act("stop");
            setAsking(undefined);
          }}
        >
          <Typography>
            {counted(waiting, "person who waits does not get it", "people who wait do not get it")}.
            People who already have it keep it. A stopped broadcast cannot be resumed.
          </Typography>
        </ConfirmDialog>
      )}
      {asking === "again" && (
        <NameDialog
          title="Resend to people who did not open it"
          label="Name of the second broadcast"
          hint="It is a draft for those who got this one, and neither opened nor clicked. It needs another subject, and can be done once."
          action="Create broadcast"
          starts={`${broadcast.name}, once more`}
          onClose={() => setAsking(undefined)}
          onName={async (name) => {
            const made = await take(
              api.POST(`${ONE}/again`, {
                params: { path: { workspace, broadcast: broadcast.id } },
                body: { name },
              }),
            );
            await reload("broadcasts");
            await go(`/w/${workspace}/broadcasts/${made.id}`);
          }}
        />
      )}
    </>
  );
}
