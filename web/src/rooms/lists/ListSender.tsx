import Stack from "@mui/material/Stack";
import TextField from "@mui/material/TextField";
import { useQuery, useQueryClient } from "@tanstack/react-query";
import { listSenderQuery } from "../../api/lists";
import { api, take, type Schemas } from "../../api/client";
import { useSlug, useWorkspace } from "../../api/workspace";
import { FormActions } from "../../drafts/FormActions";
import { useForm } from "../../drafts/useForm";

type Sender = Pick<Schemas["SenderOut"], "sender_name" | "sender_address" | "reply_to">;

/** Who the emails of a list are from, where that is not as the workspace says. */
export function ListSender({ list }: { list: string }) {
  const workspace = useSlug();
  const { data } = useQuery(listSenderQuery(workspace, list));
  return data ? <SenderForm list={list} stored={data} /> : null;
}

function SenderForm({ list, stored }: { list: string; stored: Schemas["SenderOut"] }) {
  const workspace = useSlug();
  const client = useQueryClient();
  const { data: settings } = useWorkspace();
  const query = listSenderQuery(workspace, list);
  const kept = (answer: Schemas["SenderOut"]) => {
    client.setQueryData(query.queryKey, answer);
    return of(answer);
  };
  const draft = useForm<Sender>(
    `sender/${list}`,
    of(stored),
    async (document, based_on) =>
      kept(
        await take(
          api.PUT("/api/workspaces/{workspace}/lists/{list}/sender", {
            params: { path: { workspace, list } },
            body: { ...document, based_on },
          }),
        ),
      ),
    async () => of(await client.query({ ...query, staleTime: 0 })),
  );
  const field = (key: keyof Sender, label: string, otherwise: string) => (
    <TextField
      label={label}
      placeholder={otherwise}
      value={draft.form[key]}
      error={Boolean(draft.wrong(key))}
      helperText={draft.wrong(key)}
      onChange={(event) => draft.set({ [key]: event.target.value })}
      slotProps={{ inputLabel: { shrink: true } }}
      sx={{ width: 250 }}
    />
  );
  return (
    <>
      <Stack direction="row" spacing={1.5} useFlexGap sx={{ flexWrap: "wrap", pb: 1 }}>
        {field("sender_name", "Sender’s name", settings?.sender_name ?? "")}
        {field("sender_address", "Sender’s address", settings?.sender_address ?? "")}
        {field("reply_to", "Replies go to", "as the workspace says")}
      </Stack>
      <FormActions draft={draft} label="Save sender" />
    </>
  );
}

function of({ version, ...document }: Schemas["SenderOut"]) {
  return { document, edits: version };
}
