import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Stack from "@mui/material/Stack";
import Typography from "@mui/material/Typography";
import { useState } from "react";
import { Problem } from "../parts/Problem";
import type { Edits, Saved, SaveState } from "./DraftSession";

interface UnsavedProps<Document, Of extends Edits> {
  draft: {
    document: Document;
    state: SaveState;
    error: unknown;
    flush: () => Promise<Of | undefined>;
    takeOver: (theirs: Saved<Document, Of>) => void;
    insist: (theirs: Saved<Document, Of>) => Promise<Of | undefined>;
  };
  /** What is stored now. */
  load: () => Promise<Saved<Document, Of>>;
  /** What the document here has different from what is stored, in sentences. */
  compare?: (document: Document) => Promise<string[]>;
}

/** Where a draft could not be saved: why, and the ways on. */
export function Unsaved<Document, Of extends Edits = number>({
  draft,
  load,
  compare,
}: UnsavedProps<Document, Of>) {
  return (
    <>
      {draft.state === "conflict" ? (
        <Conflict draft={draft} load={load} {...(compare && { compare })} />
      ) : (
        <Problem error={draft.error} />
      )}
      {draft.state === "failed" && <Button onClick={() => void draft.flush()}>Try again</Button>}
    </>
  );
}

const SHOWN = 8;

/** Somebody else has changed the same: what is different, and the two ways on. */
export function Conflict<Document, Of extends Edits>({
  draft,
  load,
  compare,
}: UnsavedProps<Document, Of>) {
  const [differences, setDifferences] = useState<string[]>();
  const [failed, setFailed] = useState<unknown>();
  const tried = (act: () => Promise<unknown>) => {
    setFailed(undefined);
    act().catch(setFailed);
  };
  return (
    <Box role="alert" sx={{ borderLeft: 3, borderColor: "warning.main", pl: 1.5, my: 1 }}>
      <Typography variant="body2">
        <strong>{draft.error instanceof Error && draft.error.message}</strong> Your latest changes
        are only on this page; the saved version is not overwritten.
      </Typography>
      {differences?.slice(0, SHOWN).map((one) => (
        <Typography key={one} variant="body2" color="textSecondary">
          {one}
        </Typography>
      ))}
      {differences && (
        <Typography variant="body2" color="textSecondary">
          {differences.length === 0 && "Both say the same."}
          {differences.length > SHOWN && `and ${differences.length - SHOWN} more`}
        </Typography>
      )}
      <Stack direction="row" spacing={1.5} useFlexGap sx={{ flexWrap: "wrap", pt: 0.5 }}>
        {compare && !differences && (
          <Button onClick={() => tried(async () => setDifferences(await compare(draft.document)))}>
            Compare
          </Button>
        )}
        <Button onClick={() => tried(async () => draft.takeOver(await load()))}>
          Use the saved version
        </Button>
        <Button onClick={() => tried(async () => draft.insist(await load()))}>Overwrite it</Button>
      </Stack>
      <Problem error={failed} />
    </Box>
  );
}
