import { useAttempt } from "../api/useAttempt";
import Button from "@mui/material/Button";
import Typography from "@mui/material/Typography";
import { useState, type ReactNode } from "react";
import { useNavigate } from "react-router";
import type { Schemas } from "../api/client";
import { useMayChange } from "../api/workspace";
import { useMoments } from "./moment";
import { Problem } from "./Problem";
import { ReplacesDraft } from "./ReplacesDraft";
import { Sheet } from "./Sheet";
import { StateWord } from "./StateWord";

interface RevisionPageProps {
  name: string;
  /** Where the sheet itself is. */
  back: string;
  revision: Omit<Schemas["RouteRevisionOut"], "document" | "words">;
  /** The draft that would be replaced by going back to this revision. */
  draft: { differs: boolean; changes: string[] };
  onGoBack: () => Promise<void>;
  /** The document as it was. */
  children: ReactNode;
}

/** A revision of a route or a sequence, to read, and the way back to it. */
export function RevisionPage(props: RevisionPageProps) {
  const { name, back, revision, draft, onGoBack, children } = props;
  const moments = useMoments();
  const mayChange = useMayChange();
  const go = useNavigate();
  const { attempt, failed } = useAttempt();
  const [asking, setAsking] = useState(false);
  const goBack = async () => {
    await attempt(async () => {
      setAsking(false);
      await onGoBack();
      await go(back);
    });
  };
  const title = `${name}, revision ${revision.number}`;
  return (
    <Sheet
      title={title}
      name={title}
      back={{ to: back, label: name }}
      state={
        <StateWord
          state={revision.live ? "live" : "draft"}
          word={revision.live ? "live" : "past"}
        />
      }
      actions={
        mayChange &&
        !revision.live && (
          <Button
            variant="outlined"
            onClick={() => (draft.differs ? setAsking(true) : void goBack())}
          >
            Restore as draft
          </Button>
        )
      }
    >
      <Typography variant="body2" color="textSecondary" sx={{ pt: 1.5 }}>
        Turned on {moments.moment(revision.live_at)}
        {revision.author && ` by ${revision.author}`}
        {revision.note && `: ${revision.note}`}. A revision never changes; this is how it was.
      </Typography>
      {revision.changes.map((one) => (
        <Typography key={one} variant="body2">
          {one}
        </Typography>
      ))}
      <Problem error={failed} />
      <ReplacesDraft
        open={asking}
        what={`Revision ${revision.number}`}
        changes={draft.changes}
        onClose={() => setAsking(false)}
        onReplace={() => void goBack()}
      />
      {children}
    </Sheet>
  );
}
