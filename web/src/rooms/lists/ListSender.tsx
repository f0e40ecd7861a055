import { useAttempt } from "../../api/useAttempt";
import Button from "@mui/material/Button";
import Stack from "@mui/material/Stack";
import TextField from "@mui/material/TextField";
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { listSenderQuery } from "../../api/lists";
import { api, take, type Schemas } from "../../api/client";
import { useReload, useSlug, useWorkspace } from "../../api/workspace";
import { Problem } from "../../parts/Problem";

type Sender = Schemas["SenderIn"];

/** Who the emails of a list are from, where that is not as the workspace says. */
export function ListSender({ list }: { list: string }) {
  const workspace = useSlug();
  const { data } = useQuery(listSenderQuery(workspace, list));
  return data ? <SenderForm key={JSON.stringify(data)} list={list} stored={data} /> : null;
}

function SenderForm({ list, stored }: { list: string; stored: Sender }) {
  const workspace = useSlug();
  const reload = useReload();
  const { data: settings } = useWorkspace();
  const [sender, setSender] = useState(stored);
  const { attempt, failed, dismiss } = useAttempt();
  const changed = JSON.stringify(sender) !== JSON.stringify(stored);
  const save = async () => {
    await attempt(async () => {
      await take(
        api.PUT("/api/workspaces/{workspace}/lists/{list}/sender", {
          params: { path: { workspace, list } },
          body: sender,
        }),
      );
      await reload("list-sender");
    });
  };
  const field = (key: keyof Sender, label: string, otherwise: string) => (
    <TextField
      label={label}
      placeholder={otherwise}
      value={sender[key]}
      onChange={(event) => setSender({ ...sender, [key]: event.target.value })}
      slotProps={{ inputLabel: { shrink: true } }}
      sx={{ width: 250 }}
    />
  );
  return (
    <>
      <Problem error={failed} onDismiss={dismiss} />
      <Stack direction="row" spacing={1.5} useFlexGap sx={{ flexWrap: "wrap" }}>
        {field("sender_name", "Sender’s name", settings?.sender_name ?? "")}
        {field("sender_address", "Sender’s address", settings?.sender_address ?? "")}
        {field("reply_to", "Replies go to", "as the workspace says")}
        <Button variant="outlined" disabled={!changed} onClick={() => void save()}>
          Save sender
        </Button>
      </Stack>
    </>
  );
}
