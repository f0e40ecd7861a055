import Box from "@mui/material/Box";
import MenuItem from "@mui/material/MenuItem";
import Typography from "@mui/material/Typography";
import { useQueryClient } from "@tanstack/react-query";
import { useCallback, useMemo, useState } from "react";
import { api, take, type Schemas } from "../../api/client";
import { useSession } from "../../api/session";
import { useMayChange, useSlug } from "../../api/workspace";
import { SaveNote } from "../../drafts/SaveNote";
import { UndoRedo } from "../../drafts/UndoRedo";
import { Unsaved } from "../../drafts/Unsaved";
import { useDraft } from "../../drafts/useDraft";
import { useSaved } from "../../drafts/useSaved";
import { Band } from "../../parts/Band";
import { goTo, PreFlight } from "../../parts/Findings";
import { Problem } from "../../parts/Problem";
import { RevisionList } from "../../parts/RevisionList";
import { Sheet } from "../../parts/Sheet";
import { TurnOn } from "../../parts/TurnOn";
import { useThing } from "../../parts/thing/useThing";
import { useBack } from "../../parts/useBack";
import type { MessageDocument } from "./letter/blocks";
import { Letter } from "./letter/LetterContext";
import { LetterSheet } from "./letter/LetterSheet";
import { MessageFigures } from "./MessageFigures";
import { MessageFiles } from "./MessageFiles";
import { MessageFormats } from "./MessageFormats";
import { MessageHead } from "./MessageHead";
import { MessageSettings } from "./MessageSettings";
import { Preview } from "./Preview";

type Message = Schemas["MessageOut"];

function asStored({ document, edits }: Message) {
  return { document, edits };
}

interface MessageEditorProps {
  message: Message;
  catalogue: Schemas["CatalogueOut"];
  settings: Schemas["MailSettingsOut"];
  pictures: Schemas["PictureOut"][];
}

/** Writing a message; it saves itself, and the preview follows. */
export function MessageEditor({ message, catalogue, settings, pictures }: MessageEditorProps) {
  const workspace = useSlug();
  const back = useBack({ to: `/w/${workspace}/messages`, label: "Messages" });
  const client = useQueryClient();
  const { data: session } = useSession();
  const readOnly = !useMayChange();
  const [saved, setSaved] = useState(message);
  const [open, setOpen] = useState<string>();
  const { id } = message;
  const path = { workspace, message: id };
  const keep = useCallback(
    (answer: Message) => {
      setSaved(answer);
      client.setQueryData(["message", workspace, id], answer);
      return asStored(answer);
    },
    [workspace, id, client],
  );
  const save = useCallback(
    async (document: MessageDocument, based_on: number) =>
      keep(
        await take(
          api.PUT("/api/workspaces/{workspace}/messages/{message}/draft", {
            params: { path: { workspace, message: id } },
            body: { document, based_on },
          }),
        ),
      ),
    [workspace, id, keep],
  );
  const keepFiles = (answer: Message) => {
    // The text may be newer here than there, so only what the files change is taken over.
    const kept = { ...saved, files: answer.files, findings: answer.findings };
    setSaved(kept);
    client.setQueryData(["message", workspace, id], kept);
  };
  const stored = useMemo(() => asStored(message), [message]);
  const draft = useDraft(stored, save);
  const load = async () =>
    keep(
      await take(api.GET("/api/workspaces/{workspace}/messages/{message}", { params: { path } })),
    );
  const { saved: whenSaved, failed, dismiss } = useSaved(draft);
  const turnOn = (note: string) =>
    whenSaved(async (based_on) => {
      const answer = await take(
        api.POST("/api/workspaces/{workspace}/messages/{message}/turn-on", {
          params: { path },
          body: { note, based_on },
        }),
      );
      draft.takeOver(keep(answer));
    });
  const discard = () =>
    whenSaved(async (based_on) => {
      const answer = await take(
        api.POST("/api/workspaces/{workspace}/messages/{message}/discard", {
          params: { path },
          body: { based_on },
        }),
      );
      draft.takeOver(keep(answer));
    });
  const thing = useThing({
    kind: "message",
    id,
    name: saved.name,
    onChanged: async () => draft.takeOver(await load()),
  });
  const document = draft.document;
  const set = (change: Partial<MessageDocument>) =>
    draft.edit((before) => ({ ...before, ...change }));
  const context = useMemo(
    () => ({
      catalogue,
      fields: catalogue.fields,
      pictures,
      style: settings.style,
      said: saved.said,
      readOnly,
      open: readOnly ? undefined : open,
      setOpen,
    }),
    [catalogue, pictures, settings, saved.said, readOnly, open],
  );
  return (
    <Letter value={context}>
      <Sheet
        title={saved.name}
        name={saved.name}
        back={back}
        state={
          <Typography variant="body2" color="textSecondary">
            {saved.differs
              ? "The draft differs from what is sent"
              : saved.used
                ? "What is written is what is sent"
                : "Nothing sends it yet"}
          </Typography>
        }
        actions={
          <>
            {!readOnly && <SaveNote state={draft.state} />}
            {!readOnly && <UndoRedo draft={draft} />}
            <PreFlight findings={saved.findings} />
            {!readOnly && (saved.differs || (saved.used && draft.state === "saving")) && (
              <TurnOn
                again
                findings={saved.findings}
                disabled={!saved.differs}
                changes={saved.changes}
                says="What goes out before that is the live text."
                onSee={goTo}
                onTurnOn={turnOn}
              />
            )}
            {!readOnly && (
              <MessageFormats
                message={saved}
                onTaken={(answer) => draft.takeOver(keep(answer))}
                onLoad={async () => draft.takeOver(await load())}
                more={(close) => [
                  ...thing.items(close),
                  saved.differs && (
                    <MenuItem key="discard" onClick={() => (close(), void discard())}>
                      Discard the draft
                    </MenuItem>
                  ),
                ]}
              />
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
            maxWidth: 1320,
          }}
        >
          <div>
            <MessageHead document={document} onChange={set} />
            <Band name="Letter" note={readOnly ? "" : "click a part to edit it"}>
              <LetterSheet
                key={draft.takenOver}
                blocks={document.blocks}
                onChange={(change) =>
                  draft.edit((before) => ({ ...before, blocks: change(before.blocks) }))
                }
              />
            </Band>
            <MessageFiles message={saved} readOnly={readOnly} onChange={keepFiles} />
            <MessageSettings
              key={`settings ${draft.takenOver}`}
              document={document}
              settings={settings}
              readOnly={readOnly}
              onChange={set}
            />
            <MessageFigures message={id} />
            <RevisionList
              revisions={saved.revisions}
              at={`/w/${workspace}/messages/${id}/revisions`}
            />
          </div>
          <Preview message={id} edits={saved.edits} to={session?.address ?? ""} />
        </Box>
      </Sheet>
    </Letter>
  );
}
