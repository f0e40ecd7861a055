import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Stack from "@mui/material/Stack";
import Typography from "@mui/material/Typography";
import { useEffect, useState } from "react";
import { useBlocker } from "react-router";
import { Problem } from "../parts/Problem";
import { LeaveDialog } from "./LeaveDialog";
import type { Saved, SaveState } from "./DraftSession";

interface UnsavedProps<Document> {
  draft: {
    document: Document;
    state: SaveState;
    error: unknown;
    flush: () => Promise<number | undefined>;
    takeOver: (theirs: Saved<Document>) => void;
    insist: (theirs: Saved<Document>) => Promise<number | undefined>;
    abandon: () => void;
    isDirty: () => boolean;
  };
  /** What is stored now. */
  load: () => Promise<Saved<Document>>;
  /** What the document here has different from what is stored, in sentences. */
  compare?: (document: Document) => Promise<string[]>;
}

/** Where a draft could not be saved: why, and the ways on. Nobody leaves it behind unasked. */
export function Unsaved<Document>({ draft, load, compare }: UnsavedProps<Document>) {
  const leaving = useBlocker(draft.isDirty);
  const [asks, setAsks] = useState(false);
  const { flush } = draft;
  useEffect(() => {
    if (leaving.state !== "blocked") return;
    // What is not saved yet is saved first; only where that fails somebody has to decide.
    let over = false;
    void flush().then((edits) => {
      if (over) return;
      if (edits === undefined) setAsks(true);
      else leaving.proceed();
    });
    return () => {
      over = true;
    };
  }, [leaving, flush]);
  const answer = (leave: boolean) => {
    setAsks(false);
    if (leave) {
      draft.abandon();
      leaving.proceed?.();
    } else leaving.reset?.();
  };
  return (
    <>
      {draft.state === "conflict" ? (
        <Conflict draft={draft} load={load} {...(compare && { compare })} />
      ) : (
        <Problem error={draft.error} />
      )}
      {draft.state === "failed" && <Button onClick={() => void draft.flush()}>Try again</Button>}
      <LeaveDialog open={asks && leaving.state === "blocked"} onAnswer={answer} />
    </>
  );
}

const SHOWN = 8;

function Conflict<Document>({ draft, load, compare }: UnsavedProps<Document>) {
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
