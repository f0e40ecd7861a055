import Box from "@mui/material/Box";
import MenuItem from "@mui/material/MenuItem";
import TextField from "@mui/material/TextField";
import Typography from "@mui/material/Typography";
import { useQueryClient } from "@tanstack/react-query";
import { useCallback, useMemo, useState } from "react";
import { api, take, type Schemas } from "../../api/client";
import { useMayChange, useSlug } from "../../api/workspace";
import { Band } from "../../parts/Band";
import { PreFlight } from "../../parts/Findings";
import { SaveNote } from "../../drafts/SaveNote";
import { UndoRedo } from "../../drafts/UndoRedo";
import { MoreMenu } from "../../parts/MoreMenu";
import { Problem } from "../../parts/Problem";
import { Sheet } from "../../parts/Sheet";
import { TurnOn } from "../../parts/TurnOn";
import { useThing } from "../../parts/thing/useThing";
import { useBack } from "../../parts/useBack";
import { Unsaved } from "../../drafts/Unsaved";
import { useDraft } from "../../drafts/useDraft";
import { useSaved } from "../../drafts/useSaved";
import { BodyEditor } from "./BodyEditor";
import { MessageFiles } from "./MessageFiles";
import { Preview } from "./Preview";

type Message = Schemas["MessageOut"];
type Content = Pick<Message, "name" | "subject" | "preheader" | "body">;

function asStored({ name, subject, preheader, body, edits }: Message) {
  return { document: { name, subject, preheader, body }, edits };
}

interface MessageEditorProps {
  message: Message;
  fields: Schemas["FieldOut"][];
}

/** Writing a message; it saves itself, and the preview follows. */
export function MessageEditor({ message, fields }: MessageEditorProps) {
  const workspace = useSlug();
  const back = useBack({ to: `/w/${workspace}/messages`, label: "Messages" });
  const client = useQueryClient();
  const readOnly = !useMayChange();
  const [saved, setSaved] = useState(message);
  const { id } = message;
  const save = useCallback(
    async (content: Content, based_on: number) => {
      const answer = await take(
        api.PUT("/api/workspaces/{workspace}/messages/{message}", {
          params: { path: { workspace, message: id } },
          body: { ...content, based_on },
        }),
      );
      setSaved(answer);
      client.setQueryData(["message", workspace, id], answer);
      return answer;
    },
    [workspace, id, client],
  );
  const keepFiles = (answer: Message) => {
    // The text may be newer here than there, so only what the files change is taken over; what is
    // kept of the message has them too, for whoever comes back.
    const kept = { ...saved, files: answer.files, findings: answer.findings };
    setSaved(kept);
    client.setQueryData(["message", workspace, id], kept);
  };
  const stored = useMemo(() => asStored(message), [message]);
  const draft = useDraft(stored, save);
  const load = async () => {
    const answer = await take(
      api.GET("/api/workspaces/{workspace}/messages/{message}", {
        params: { path: { workspace, message: id } },
      }),
    );
    setSaved(answer);
    return asStored(answer);
  };
  const { saved: whenSaved, failed, dismiss } = useSaved(draft);
  const change = (what: "turn-on" | "discard") =>
    whenSaved(async (based_on) => {
      const answer = await take(
        api.POST(`/api/workspaces/{workspace}/messages/{message}/${what}`, {
          params: { path: { workspace, message: id } },
          body: { based_on },
        }),
      );
      setSaved(answer);
      client.setQueryData(["message", workspace, id], answer);
      draft.takeOver(asStored(answer));
    });
  const content = draft.document;
  const thing = useThing({
    kind: "message",
    id,
    name: content.name,
    onChanged: async () => draft.takeOver(await load()),
  });
  const set = (change: Partial<Content>) => draft.edit((before) => ({ ...before, ...change }));
  const line = (key: "name" | "subject" | "preheader", label: string, hint: string) => (
    <TextField
      label={label}
      value={content[key]}
      disabled={readOnly}
      onChange={(event) => set({ [key]: event.target.value })}
      helperText={hint}
      sx={{ mb: 1.5 }}
    />
  );
  return (
    <Sheet
      title={content.name}
      name={content.name}
      back={back}
      state={
        saved.differs && (
          <Typography variant="body2" color="textSecondary">
            The draft differs from what is sent
          </Typography>
        )
      }
      actions={
        <>
          {!readOnly && <SaveNote state={draft.state} />}
          {!readOnly && <UndoRedo draft={draft} />}
          <PreFlight findings={saved.findings} />
          {!readOnly && (saved.differs || draft.state === "saving") && (
            <TurnOn
              again
              findings={saved.findings}
              disabled={!saved.differs}
              says="The live text is sent until then."
              withNote={false}
              onTurnOn={() => change("turn-on")}
            />
          )}
          {!readOnly && (
            <MoreMenu>
              {(close) => [
                ...thing.items(close),
                saved.differs && (
                  <MenuItem key="discard" onClick={() => (close(), void change("discard"))}>
                    Discard the draft
                  </MenuItem>
                ),
              ]}
            </MoreMenu>
          )}
          {thing.dialogs}
        </>
      }
    >
      <Problem error={failed} onDismiss={dismiss} />
      <Unsaved draft={draft} load={load} />
      <Box
        sx={{
          display: "grid",
          gridTemplateColumns: { xs: "minmax(0,1fr)", lg: "minmax(0,1fr) 400px" },
          columnGap: 3,
        }}
      >
        <div>
          <Band name="Header">
            {line("name", "Name", "Internal name")}
            {line("subject", "Subject", "Write fields in braces, for example {{ first_name }}")}
            {line("preheader", "Preheader", "The line that inboxes show after the subject")}
          </Band>
          <Band
            name="Text"
            note={<Typography variant="caption">a chip is a field of the person</Typography>}
          >
            <BodyEditor
              key={draft.takenOver}
              body={content.body}
              fields={fields}
              readOnly={readOnly}
              onChange={(next) => set({ body: next })}
            />
          </Band>
          <MessageFiles message={saved} readOnly={readOnly} onChange={keepFiles} />
        </div>
        <Preview message={id} edits={saved.edits} />
      </Box>
    </Sheet>
  );
}
