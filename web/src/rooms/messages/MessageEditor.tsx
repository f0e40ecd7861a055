import Box from "@mui/material/Box";
import MenuItem from "@mui/material/MenuItem";
import Typography from "@mui/material/Typography";
import { useMemo, useState } from "react";
import { api, take, type Schemas } from "../../api/client";
import { useSession } from "../../api/session";
import { useMayChange, useSlug } from "../../api/workspace";
import { SaveNote } from "../../drafts/SaveNote";
import { UndoRedo } from "../../drafts/UndoRedo";
import { Unsaved } from "../../drafts/Unsaved";
import { useDocument } from "../../drafts/useDocument";
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
  const { data: session } = useSession();
  const readOnly = !useMayChange();
  const [open, setOpen] = useState<string>();
  const { id } = message;
  const path = { workspace, message: id };
  const { draft, compare, keep, load, act, discard, failed, dismiss } = useDocument(
    "message",
    message,
  );
  const turnOn = (note: string) =>
    act((based_on) =>
      take(
        api.POST("/api/workspaces/{workspace}/messages/{message}/turn-on", {
          params: { path },
          body: { note, based_on },
        }),
      ),
    );
  // The text may be newer here than there, so only what the files change is taken over.
  const keepFiles = ({ files, findings }: Message) => keep({ ...message, files, findings });
  const thing = useThing({
    kind: "message",
    id,
    name: message.name,
    onChanged: load,
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
      words: message.words,
      readOnly,
      open: readOnly ? undefined : open,
      setOpen,
    }),
    [catalogue, pictures, settings, message.words, readOnly, open],
  );
  return (
    <Letter value={context}>
      <Sheet
        title={message.name}
        name={message.name}
        back={back}
        state={
          <Typography variant="body2" color="textSecondary">
            {message.differs
              ? "The draft differs from what is sent"
              : message.used
                ? "What is written is what is sent"
                : "Nothing sends it yet"}
          </Typography>
        }
        actions={
          <>
            {!readOnly && <SaveNote state={draft.state} slow={draft.slow} />}
            {!readOnly && <UndoRedo draft={draft} />}
            <PreFlight findings={message.findings} />
            {!readOnly && (message.differs || (message.used && draft.state === "saving")) && (
              <TurnOn
                again
                findings={message.findings}
                disabled={!message.differs}
                changes={message.changes}
                says="What goes out before that is the live text."
                onSee={goTo}
                onTurnOn={turnOn}
              />
            )}
            {!readOnly && (
              <MessageFormats
                message={message}
                onTaken={(answer) => draft.takeOver(keep(answer))}
                onLoad={async () => draft.takeOver(await load())}
                more={(close) => [
                  ...thing.items(close),
                  message.differs && (
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
        <Unsaved draft={draft} load={load} compare={compare} />
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
            <MessageFiles message={message} readOnly={readOnly} onChange={keepFiles} />
            <MessageSettings
              key={`settings ${draft.takenOver}`}
              document={document}
              settings={settings}
              readOnly={readOnly}
              onChange={set}
            />
            <MessageFigures message={id} />
            <RevisionList
              revisions={message.revisions}
              at={`/w/${workspace}/messages/${id}/revisions`}
            />
          </div>
          <Preview message={id} edits={message.edits} to={session?.address ?? ""} />
        </Box>
      </Sheet>
    </Letter>
  );
}
