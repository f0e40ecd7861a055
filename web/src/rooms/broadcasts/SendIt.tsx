import Button from "@mui/material/Button";
import MenuItem from "@mui/material/MenuItem";
import TextField from "@mui/material/TextField";
import Typography from "@mui/material/Typography";
import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { planQuery } from "../../api/broadcasts";
import { api, take, type Schemas } from "../../api/client";
import { useSlug } from "../../api/workspace";
import { ConfirmDialog } from "../../parts/ConfirmDialog";
import { goTo } from "../../parts/Findings";
import { counted } from "../../parts/formats";
import { useMoments } from "../../parts/moment";

type Broadcast = Schemas["BroadcastOut"];

interface SendItProps {
  broadcast: Broadcast;
  document: Schemas["BroadcastDocument"];
  saving: boolean;
  act: (asked: (based_on: number) => Promise<Broadcast>) => Promise<boolean>;
}

/** Sends it, or asks a second member to approve it, once everything is counted and said. */
export function SendIt({ broadcast, document, saving, act }: SendItProps) {
  const workspace = useSlug();
  const moments = useMoments();
  const [asking, setAsking] = useState(false);
  const [approver, setApprover] = useState(broadcast.approvers[0]?.id ?? "");
  const { data: plan } = useQuery({
    ...planQuery(workspace, broadcast.id, document),
    placeholderData: keepPreviousData,
  });
  const asks = broadcast.acts.includes("ask");
  const word = asks ? "Ask for approval" : "Send";
  const stopping = broadcast.findings.filter((one) => one.stops);
  const path = { workspace, broadcast: broadcast.id };
  const send = async () => {
    const done = await act((based_on) =>
      take(
        asks
          ? api.POST("/api/workspaces/{workspace}/broadcasts/{broadcast}/ask", {
              params: { path },
              body: { approver, based_on },
            })
          : api.POST("/api/workspaces/{workspace}/broadcasts/{broadcast}/turn-on", {
              params: { path },
              body: { note: "", based_on },
            }),
      ),
    );
    if (!done) throw new Error("It was not sent. The sheet behind this dialog says why.");
  };
  const delay = document.when.delay_minutes;
  const first = stopping[0];
  return (
    <>
      <Button variant="contained" disabled={saving} onClick={() => setAsking(true)}>
        {word}
      </Button>
      {asking && first && (
        <ConfirmDialog
          title={`${counted(stopping.length, "thing", "things")} to fix first`}
          action="Go there"
          onClose={() => setAsking(false)}
          onConfirm={() => {
            setAsking(false);
            goTo(first);
          }}
        >
          {stopping.map((one) => (
            <Typography key={one.code + one.place} variant="body2" sx={{ mb: 1 }}>
              {one.sentence} {one.fix}
            </Typography>
          ))}
        </ConfirmDialog>
      )}
      {asking && !first && (
        <ConfirmDialog
          title={asks ? `Ask for approval of “${broadcast.name}”?` : `Send “${broadcast.name}”?`}
          action={word}
          disabled={!plan || plan.gets === 0 || (asks && !approver)}
          onClose={() => setAsking(false)}
          onConfirm={send}
        >
          <Typography sx={{ fontWeight: 600, mb: 1 }}>
            {plan ? `${counted(plan.gets, "person gets", "people get")} it.` : "Counting …"}
          </Typography>
          <Typography variant="body2" sx={{ mb: 1 }}>
            {broadcast.to}.
          </Typography>
          {plan && (
            <Typography variant="body2" sx={{ mb: 1 }}>
              The first email goes {asks ? "after it is approved, not before" : "not before"}{" "}
              {moments.moment(plan.begins)}
              {delay > 0 && `; until then it can be called back whole`}.
            </Typography>
          )}
          {broadcast.findings.map((one) => (
            <Typography key={one.code + one.place} variant="body2" color="warning" sx={{ mb: 1 }}>
              {one.sentence}
            </Typography>
          ))}
          {asks && broadcast.approvers.length === 0 && (
            <Typography color="error">
              There is no second member who could approve it. An owner can change that in the
              settings.
            </Typography>
          )}
          {asks && broadcast.approvers.length > 0 && (
            <TextField
              select
              label="Who approves it"
              value={approver}
              onChange={(event) => setApprover(event.target.value)}
              sx={{ mt: 1 }}
            >
              {broadcast.approvers.map((one) => (
                <MenuItem key={one.id} value={one.id}>
                  {one.name}
                </MenuItem>
              ))}
            </TextField>
          )}
        </ConfirmDialog>
      )}
    </>
  );
}
