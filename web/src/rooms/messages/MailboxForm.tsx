import Stack from "@mui/material/Stack";
import TextField from "@mui/material/TextField";
import { api, take, type Schemas } from "../../api/client";
import { useReload, useSlug } from "../../api/workspace";
import { FormActions } from "../../drafts/FormActions";
import { useForm } from "../../drafts/useForm";
import { NumberField } from "../../parts/NumberField";

interface MailboxFormProps {
  stored: Schemas["MailboxOut"] | null;
  onClose: () => void;
}

/** Which mailbox replies are read from. */
export function MailboxForm({ stored, onClose }: MailboxFormProps) {
  const workspace = useSlug();
  const reload = useReload();
  const params = { path: { workspace } };
  const asForm = (box: Schemas["MailboxOut"] | null) => {
    const { host = "", port = 993, user = "" } = box ?? {};
    // A password is never shown again, so an empty one keeps what there is.
    return { document: { host, port, user, password: "" }, edits: `${user}@${host}:${port}` };
  };
  const draft = useForm(
    `mailbox/${workspace}`,
    asForm(stored),
    async (document) => {
      const kept = await take(
        api.PUT("/api/workspaces/{workspace}/mail/mailbox", {
          params,
          body: { ...document, folder: "INBOX" },
        }),
      );
      await reload("reply-mailbox", "delivery");
      return asForm(kept);
    },
    async () => asForm(await take(api.GET("/api/workspaces/{workspace}/mail/mailbox", { params }))),
  );
  const { form, set } = draft;
  return (
    <Stack spacing={1.5}>
      <Stack direction="row" spacing={1.5} useFlexGap sx={{ flexWrap: "wrap" }}>
        <TextField
          autoFocus
          label="IMAP server"
          placeholder="imap.example.org"
          value={form.host}
          onChange={(event) => set({ host: event.target.value })}
          sx={{ width: 220 }}
        />
        <NumberField
          label="Port (TLS)"
          value={form.port}
          min={1}
          max={65535}
          onChange={(port) => set({ port })}
          sx={{ width: 110 }}
        />
        <TextField
          label="User"
          value={form.user}
          autoComplete="off"
          onChange={(event) => set({ user: event.target.value })}
          sx={{ width: 200 }}
        />
        <TextField
          type="password"
          label={stored ? "Password (empty: as before)" : "Password"}
          value={form.password}
          autoComplete="new-password"
          onChange={(event) => set({ password: event.target.value })}
          sx={{ width: 220 }}
        />
      </Stack>
      <FormActions draft={draft} onSaved={onClose} onCancel={onClose} />
    </Stack>
  );
}
