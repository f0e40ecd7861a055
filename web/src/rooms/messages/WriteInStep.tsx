import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Dialog from "@mui/material/Dialog";
import Stack from "@mui/material/Stack";
import Typography from "@mui/material/Typography";
import { useQuery } from "@tanstack/react-query";
import { type ReactNode } from "react";
import { messageQuery } from "../../api/messages";
import { useSession } from "../../api/session";
import { useCatalogue, useSlug } from "../../api/workspace";
import { SaveNote } from "../../drafts/SaveNote";
import { undoKey } from "../../drafts/undoKeys";
import { Unsaved } from "../../drafts/Unsaved";
import { Loading } from "../../parts/Loading";
import { Problem } from "../../parts/Problem";
import { BESIDE_PREVIEW } from "./besidePreview";
import { beginningOf } from "./letter/beginningOf";
import { Letter } from "./letter/LetterContext";
import { LetterBand } from "./LetterBand";
import { MessageActions } from "./MessageActions";
import { MessageFiles } from "./MessageFiles";
import { InboxFields, MessageHead } from "./MessageHead";
import { MessageSettings } from "./MessageSettings";
import { Preview } from "./Preview";
import { useMailSettings } from "./useMailSettings";
import { useMessageEditing, type WrittenWith } from "./useMessageEditing";
import { usePictures } from "./usePictures";

interface WriteInStepProps {
  message: string;
  /** Goes on to the next email of the sequence, or back. */
  near: ReactNode;
  /** Whether the letter is open, wide over the sheet. */
  wide: boolean;
  onWide: (wide: boolean) => void;
}

/** The email of a step, written where it is sent: its subject and preheader, and the letter wide over the
 * sheet. It is the draft of the message, as on the message's own sheet. */
export default function WriteInStep(props: WriteInStepProps) {
  const workspace = useSlug();
  const { data: catalogue } = useCatalogue();
  const { data: settings } = useMailSettings();
  const { pictures, loaded } = usePictures();
  const { data, error } = useQuery({
    ...messageQuery(workspace, props.message),
    refetchOnWindowFocus: false,
  });
  if (!data || !catalogue || !settings || !loaded)
    return <Loading error={error} within="a sheet" />;
  return <Writing {...props} written={{ message: data, catalogue, settings, pictures }} />;
}

function Writing({ written, near, wide, onWide }: WriteInStepProps & { written: WrittenWith }) {
  const editing = useMessageEditing(written);
  const { draft, load, compare, failed, dismiss, readOnly, letter, set, keepFiles } = editing;
  const { data: session } = useSession();
  const { message } = written;
  const labels = new Map(letter.fields.map((one) => [one.key, one.label]));
  const beginning = beginningOf(draft.document.blocks, labels);
  const trouble = (
    <>
      <Problem error={failed} onDismiss={dismiss} />
      <Unsaved draft={draft} load={load} compare={compare} />
    </>
  );
  return (
    <Letter value={letter}>
      {/* What is undone here is the email, not the sequence around it. */}
      <Box
        role="group"
        aria-label="Email"
        onKeyDown={(event) => {
          const asks = undoKey(event);
          if (!asks || readOnly) return;
          event.preventDefault();
          event.stopPropagation();
          draft[asks]();
        }}
      >
        <InboxFields document={draft.document} onChange={set} />
        {!wide && trouble}
        <Typography
          variant="body2"
          color="textSecondary"
          sx={{ mt: 1.5, overflowWrap: "anywhere" }}
        >
          {beginning || "Nothing is written yet."}
        </Typography>
        <Stack
          direction="row"
          spacing={1}
          useFlexGap
          sx={{ mt: 1, flexWrap: "wrap", alignItems: "center" }}
        >
          <Button variant="outlined" onClick={() => onWide(true)}>
            {readOnly ? "Read the letter" : "Write the letter"}
          </Button>
          {near}
        </Stack>
        {message.differs && (
          <Typography variant="caption" component="div" color="textSecondary" sx={{ mt: 1 }}>
            What is sent is the live text. Open the letter to turn on the changes.
          </Typography>
        )}
        <Dialog
          open={wide}
          onClose={() => onWide(false)}
          maxWidth={false}
          aria-label={`Email ${message.name}`}
          slotProps={{ paper: { sx: { width: 1344, height: "calc(100vh - 48px)" } } }}
        >
          <Stack
            direction="row"
            spacing={1.5}
            useFlexGap
            sx={{
              alignItems: "center",
              flexWrap: "wrap",
              px: 3,
              py: 1,
              borderBottom: 1,
              borderColor: "divider",
            }}
          >
            <Typography variant="h2" component="h2" sx={{ flex: 1, overflowWrap: "anywhere" }}>
              {message.name}
            </Typography>
            <MessageActions editing={editing} />
            {near}
            <Button variant="contained" onClick={() => onWide(false)}>
              Done
            </Button>
          </Stack>
          <Box sx={{ overflowY: "auto", px: 3, pb: 3, flex: 1 }}>
            {trouble}
            <Box sx={BESIDE_PREVIEW}>
              <div>
                <MessageHead document={draft.document} onChange={set} />
                <LetterBand editing={editing} />
                <MessageFiles message={message} readOnly={readOnly} onChange={keepFiles} />
                <MessageSettings
                  key={`settings ${draft.takenOver}`}
                  document={draft.document}
                  settings={written.settings}
                  readOnly={readOnly}
                  onChange={set}
                />
              </div>
              <Preview
                message={message.id}
                edits={message.edits}
                to={session?.address ?? ""}
                top={0}
              />
            </Box>
          </Box>
        </Dialog>
        {!wide && !readOnly && <SaveNote state={draft.state} slow={draft.slow} saved="" />}
      </Box>
    </Letter>
  );
}
