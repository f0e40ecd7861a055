import { counted } from "../../parts/formats";
import Button from "@mui/material/Button";
import MenuItem from "@mui/material/MenuItem";
import Stack from "@mui/material/Stack";
import { useState } from "react";
import type { Schemas } from "../../api/client";
import { useMayChange, useSlug } from "../../api/workspace";
import { DocumentActions } from "../../parts/DocumentActions";
import { DocumentFile } from "../../parts/DocumentFile";
import { focusOnId } from "../../parts/focus/focus";
import { FileDrop } from "../../parts/FileDrop";
import { FindingsAt } from "../../parts/Findings";
import { MissingThings } from "../../parts/MissingThings";
import { Problem } from "../../parts/Problem";
import { RevisionList } from "../../parts/RevisionList";
import { SaveNote } from "../../drafts/SaveNote";
import { UndoRedo } from "../../drafts/UndoRedo";
import { Sheet } from "../../parts/Sheet";
import { Unsaved } from "../../drafts/Unsaved";
import { useThing } from "../../parts/thing/useThing";
import { useBack } from "../../parts/useBack";
import { AddPeople } from "./AddPeople";
import { ADD, AddToSequence } from "./AddToSequence";
import { useEditing } from "./useEditing";
import { useRoutes } from "./useSequence";
import { DraftAhead } from "./DraftAhead";
import { Figures } from "./Figures";
import { Lanes } from "./Lanes";
import { PeopleThere, type PeopleFilter } from "./PeopleThere";
import { ASKED, branchNames, rehearsedSteps, useRehearsal, type RehearsalAsked } from "./rehearsal";
import { PANEL } from "./Panel";
import { RehearsalPanel } from "./RehearsalPanel";
import { Removed } from "./Removed";
import { placeIn, type Selection, type Way } from "./sequenceDocument";
import { SequencePanel } from "./SequencePanel";
import { SequenceState } from "./SequenceState";
import { Summary } from "./Summary";
import { Together } from "./Together";
import { usePath } from "./usePath";

type Sequence = Schemas["SequenceOut"];

interface SequenceEditorProps {
  sequence: Sequence;
  catalogue: Schemas["CatalogueOut"];
}

/** The sheet of a sequence while it is edited. */
export function SequenceEditor({ sequence, catalogue }: SequenceEditorProps) {
  const workspace = useSlug();
  const readOnly = !useMayChange();
  const { id } = sequence;
  const back = useBack({ to: `/w/${workspace}/sequences`, label: "Sequences" });
  const editing = useEditing(sequence);
  const { draft, compare, discard, load } = editing;
  const thing = useThing({ kind: "sequence", id, name: sequence.name, onChanged: load });
  const [selection, setSelection] = useState<Selection>();
  const [people, setPeople] = useState<PeopleFilter>();
  const [adding, setAdding] = useState(false);
  const [dropped, setDropped] = useState<File>();
  const [asked, setAsked] = useState<RehearsalAsked>();
  const rehearsal = useRehearsal(sequence, asked ?? ASKED, asked !== undefined);
  const routes = useRoutes(id);
  const { document } = draft;
  const path = usePath(sequence);
  const [removed, setRemoved] = useState<Record<string, Way>>({});
  const select = (one: Selection | undefined) => {
    setSelection(one);
    if (one) setAsked(undefined);
    // What opens is gone on with in its panel; what closes, where it was opened.
    const same = one && selection && placeIn(one) === placeIn(selection);
    if (one && !same) focusOnId(PANEL, "into");
    if (!one && selection) focusOnId([placeIn(selection), ADD]);
  };
  return (
    <Sheet
      title={sequence.name}
      name={sequence.name}
      back={back}
      state={<SequenceState sequence={sequence} readOnly={readOnly} />}
      actions={
        <>
          {!readOnly && <SaveNote state={draft.state} slow={draft.slow} />}
          {!readOnly && <UndoRedo draft={draft} />}
          <DocumentFile
            address={`/api/workspaces/${workspace}/sequences/${id}/document.json`}
            readOnly={readOnly}
            differs={sequence.differs}
            changes={sequence.changes}
            onFile={editing.putIn}
            more={(close) => [
              ...(readOnly ? [] : thing.items(close)),
              !readOnly && sequence.differs && sequence.live_number && (
                <MenuItem key="discard" onClick={() => (close(), void discard())}>
                  Discard the draft
                </MenuItem>
              ),
            ]}
          />
          {thing.dialogs}
          {!readOnly && sequence.live_number && (
            <Button onClick={() => setAdding(true)}>Add people</Button>
          )}
          <Button
            variant="outlined"
            aria-pressed={asked !== undefined}
            onClick={() => {
              setSelection(undefined);
              setAsked(asked ? undefined : ASKED);
            }}
          >
            {asked ? "Close rehearsal" : "Rehearse"}
          </Button>
          <DocumentActions
            of={sequence}
            findings={path.findings}
            also={path.along.length > 0}
            saving={draft.state === "saving"}
            changes={sequence.changes}
            more={
              <>
                <Removed
                  removed={sequence.removed}
                  document={document}
                  words={sequence.words}
                  ways={removed}
                  onChange={setRemoved}
                />
                <Together path={path} />
                <DraftAhead sequence={id} />
              </>
            }
            resuming={
              sequence.overdue > 0
                ? `${counted(sequence.overdue, "person is", "people are")} due by now and would continue at once.`
                : ""
            }
            onTurnOn={(note) => editing.turnOn(note, removed, path.along)}
            onPause={editing.pause}
            onResume={editing.resume}
          />
        </>
      }
    >
      <Problem error={editing.failed} onDismiss={editing.dismiss} />
      <Unsaved draft={draft} load={load} compare={compare} />
      <MissingThings missing={editing.missing} />
      <Summary
        sequence={sequence}
        document={document}
        words={sequence.words}
        lists={catalogue.lists}
        findings={path.own}
        selection={selection}
        onSelect={select}
        onPeople={setPeople}
      />
      <FindingsAt findings={path.own} place="sender" />
      <FindingsAt findings={path.own} place="lanes" />
      <Stack
        direction={{ xs: "column", lg: "row" }}
        spacing={1.5}
        sx={{ pb: 2 }}
        // What the panel lies over is seen again.
        onKeyDown={(event) => {
          if (event.key === "Escape" && selection && !event.defaultPrevented) select(undefined);
        }}
      >
        <FileDrop disabled={readOnly} onFile={setDropped}>
          <Lanes
            sequence={id}
            document={document}
            words={sequence.words}
            headings={sequence.headings}
            counts={asked ? [] : sequence.counts}
            findings={path.own}
            routes={routes.data ?? []}
            readOnly={readOnly}
            selection={selection}
            onSelect={select}
            edit={draft.edit}
            rehearsed={
              asked && rehearsal.data
                ? rehearsedSteps(rehearsal.data, branchNames(document))
                : undefined
            }
          />
          {!readOnly && (
            <AddToSequence
              sequence={id}
              catalogue={catalogue}
              routes={routes.data ?? []}
              document={document}
              flush={draft.flush}
              edit={draft.edit}
              selection={selection}
              dropped={dropped}
              onDropped={setDropped}
              onSelect={select}
            />
          )}
        </FileDrop>
        {selection && (
          <SequencePanel
            selection={selection}
            own={id}
            document={document}
            catalogue={catalogue}
            words={sequence.words}
            headings={sequence.headings}
            counts={sequence.counts}
            findings={path.own}
            edit={draft.edit}
            readOnly={readOnly}
            onSelect={select}
            onPeople={setPeople}
          />
        )}
        {asked && (
          <RehearsalPanel
            sequence={sequence}
            document={document}
            catalogue={catalogue}
            asked={asked}
            rehearsal={rehearsal.data}
            error={rehearsal.error}
            onAsk={setAsked}
            onClose={() => setAsked(undefined)}
          />
        )}
      </Stack>
      {sequence.entered > 0 && (
        <Figures
          sequence={id}
          document={document}
          words={sequence.words}
          routes={routes.data ?? []}
        />
      )}
      {people && (
        <PeopleThere
          sequence={id}
          name={sequence.name}
          filter={people}
          words={sequence.words}
          onClose={() => setPeople(undefined)}
        />
      )}
      {adding && (
        <AddPeople sequence={sequence} catalogue={catalogue} onClose={() => setAdding(false)} />
      )}
      <RevisionList
        revisions={sequence.revisions}
        at={`/w/${workspace}/sequences/${id}/revisions`}
      />
    </Sheet>
  );
}
