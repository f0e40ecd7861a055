import Typography from "@mui/material/Typography";
import type { Schemas } from "../../api/client";
import { useMayChange, useSlug } from "../../api/workspace";
import { SaveNote } from "../../drafts/SaveNote";
import { UndoRedo } from "../../drafts/UndoRedo";
import { Unsaved } from "../../drafts/Unsaved";
import { useDocument } from "../../drafts/useDocument";
import { Band, BandRow } from "../../parts/Band";
import { DocumentFile } from "../../parts/DocumentFile";
import { PreFlight } from "../../parts/Findings";
import { MissingThings } from "../../parts/MissingThings";
import { Problem } from "../../parts/Problem";
import { RevisionList } from "../../parts/RevisionList";
import { Sheet } from "../../parts/Sheet";
import { useThing } from "../../parts/thing/useThing";
import { useBack } from "../../parts/useBack";
import { useSettled } from "../../parts/useSettled";
import { Beside } from "./Beside";
import { MessageBand } from "./MessageBand";
import { PersonBeside } from "./PersonBeside";
import { PlanBand } from "./PlanBand";
import { SendIt } from "./SendIt";
import { TestDialog } from "./TestDialog";
import { ToBand } from "./ToBand";
import { WhenBand } from "./WhenBand";

interface BroadcastEditorProps {
  broadcast: Schemas["BroadcastOut"];
  catalogue: Schemas["CatalogueOut"];
}

/** A broadcast in preparation: to whom, what and when, with what that comes to. */
export function BroadcastEditor({ broadcast, catalogue }: BroadcastEditorProps) {
  const workspace = useSlug();
  const readOnly = !useMayChange();
  const back = useBack({ to: `/w/${workspace}/broadcasts`, label: "Broadcasts" });
  const { draft, load, compare, act, failed, dismiss, putIn, missing } = useDocument(
    "broadcast",
    broadcast,
  );
  const { edit, document } = draft;
  const thing = useThing({
    kind: "broadcast",
    id: broadcast.id,
    name: broadcast.name,
    onChanged: load,
  });
  const settled = useSettled(document, 300);
  const { to, when } = document;
  return (
    <Sheet
      title={broadcast.name}
      name={broadcast.name}
      back={back}
      state={
        <Typography variant="body2" color="textSecondary">
          {broadcast.archived ? "In the archive" : "In preparation"}
        </Typography>
      }
      actions={
        !readOnly && (
          <>
            <SaveNote state={draft.state} slow={draft.slow} />
            <UndoRedo draft={draft} />
            <DocumentFile
              address={`/api/workspaces/${workspace}/broadcasts/${broadcast.id}/document.json`}
              readOnly={readOnly}
              differs
              onFile={putIn}
              more={thing.items}
            />
            {thing.dialogs}
            <TestDialog broadcast={broadcast.id} document={document} />
            <PreFlight findings={broadcast.findings} />
            <SendIt
              broadcast={broadcast}
              document={settled}
              saving={draft.state === "saving"}
              act={act}
            />
          </>
        )
      }
    >
      <Problem error={failed} onDismiss={dismiss} />
      <Unsaved draft={draft} load={load} compare={compare} />
      <MissingThings missing={missing} />
      <Beside person={<PersonBeside broadcast={broadcast.id} document={settled} />}>
        <ToBand
          broadcast={broadcast}
          to={to}
          catalogue={catalogue}
          readOnly={readOnly}
          onChange={(next) => edit((before) => ({ ...before, to: next }))}
        />
        <MessageBand
          broadcast={broadcast}
          document={document}
          catalogue={catalogue}
          readOnly={readOnly}
          edit={edit}
        />
        <WhenBand
          broadcast={broadcast}
          when={when}
          readOnly={readOnly}
          onChange={(next) => edit((before) => ({ ...before, when: next }))}
        />
        <PlanBand broadcast={broadcast.id} document={settled} />
        {broadcast.before && (
          <Band name="Since the last" note={broadcast.before}>
            <BandRow>
              {broadcast.changes.length === 0 && (
                <Typography variant="body2" color="textSecondary">
                  As “{broadcast.before}” was.
                </Typography>
              )}
              {broadcast.changes.map((one) => (
                <Typography key={one} variant="body2" sx={{ overflowWrap: "anywhere" }}>
                  {one}
                </Typography>
              ))}
            </BandRow>
          </Band>
        )}
        <RevisionList
          revisions={broadcast.revisions}
          at={`/w/${workspace}/broadcasts/${broadcast.id}/revisions`}
        />
      </Beside>
    </Sheet>
  );
}
