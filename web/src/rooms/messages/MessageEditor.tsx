import Box from "@mui/material/Box";
import MenuItem from "@mui/material/MenuItem";
import Typography from "@mui/material/Typography";
import { useSession } from "../../api/session";
import { useSlug } from "../../api/workspace";
import { Unsaved } from "../../drafts/Unsaved";
import { Problem } from "../../parts/Problem";
import { RevisionList } from "../../parts/RevisionList";
import { Sheet } from "../../parts/Sheet";
import { useThing } from "../../parts/thing/useThing";
import { useBack } from "../../parts/useBack";
import { BESIDE_PREVIEW } from "./besidePreview";
import { Letter } from "./letter/LetterContext";
import { LetterBand } from "./LetterBand";
import { MessageActions } from "./MessageActions";
import { MessageFigures } from "./MessageFigures";
import { MessageFiles } from "./MessageFiles";
import { MessageFormats } from "./MessageFormats";
import { MessageHead } from "./MessageHead";
import { MessageSettings } from "./MessageSettings";
import { Preview } from "./Preview";
import { useMessageEditing, type WrittenWith } from "./useMessageEditing";

/** Writing a message; it saves itself, and the preview follows. */
export function MessageEditor(written: WrittenWith) {
  const { message, settings } = written;
  const workspace = useSlug();
  const back = useBack({ to: `/w/${workspace}/messages`, label: "Messages" });
  const { data: session } = useSession();
  const editing = useMessageEditing(written);
  const { draft, compare, keep, load, discard, failed, dismiss } = editing;
  const { readOnly, letter, set, keepFiles } = editing;
  const { id } = message;
  const thing = useThing({
    kind: "message",
    id,
    name: message.name,
    onChanged: load,
  });
  const { document } = draft;
  return (
    <Letter value={letter}>
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
            <MessageActions editing={editing} />
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
        <Box sx={BESIDE_PREVIEW}>
          <div>
            <MessageHead document={document} onChange={set} />
            <LetterBand editing={editing} />
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
