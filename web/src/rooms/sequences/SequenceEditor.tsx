import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import MenuItem from "@mui/material/MenuItem";
import Stack from "@mui/material/Stack";
import Typography from "@mui/material/Typography";
import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useCallback, useState } from "react";
import { Link } from "react-router";
import { api, asIs, take, type Schemas } from "../../api/client";
import { useMayChange, useReload, useSlug } from "../../api/workspace";
import { AddMenu } from "../../parts/AddMenu";
import { DocumentActions } from "../../parts/DocumentActions";
import { DocumentFile } from "../../parts/DocumentFile";
import { FindingsAt } from "../../parts/Findings";
import { MissingThings } from "../../parts/MissingThings";
import { counted } from "../../parts/moment";
import { newId } from "../../parts/newId";
import { Problem } from "../../parts/Problem";
import { RevisionList } from "../../parts/RevisionList";
import { SaveNote } from "../../drafts/SaveNote";
import { UndoRedo } from "../../drafts/UndoRedo";
import { Sheet } from "../../parts/Sheet";
import { Unsaved } from "../../drafts/Unsaved";
import { useSaved } from "../../drafts/useSaved";
import { StateWord } from "../../parts/StateWord";
import { useThing } from "../../parts/thing/useThing";
import { useBack } from "../../parts/useBack";
import { useDraft } from "../../drafts/useDraft";
import { AddPeople } from "./AddPeople";
import { Figures } from "./Figures";
import { Lanes } from "./Lanes";
import { PeopleThere, type PeopleFilter } from "./PeopleThere";
import {
  ASKED,
  branchNames,
  RehearsalPanel,
  rehearsedSteps,
  useRehearsal,
  type RehearsalAsked,
} from "./Rehearse";
import { Removed } from "./Removed";
import {
  DOORS,
  END,
  newDoor,
  nextLaneName,
  type Door,
  type Selection,
  type SequenceDocument,
  type Way,
} from "./sequenceDocument";
import { SequencePanel } from "./SequencePanel";
import { Summary } from "./Summary";

type Sequence = Schemas["SequenceOut"];

interface SequenceEditorProps {
  sequence: Sequence;
  catalogue: Schemas["CatalogueOut"];
}

/** The sheet of a sequence while it is edited. */
export function SequenceEditor({ sequence, catalogue }: SequenceEditorProps) {
  const workspace = useSlug();
  const client = useQueryClient();
  const reload = useReload();
  const readOnly = !useMayChange();
  const [missing, setMissing] = useState<Schemas["Reference"][]>([]);
  const { id } = sequence;
  const path = { workspace, sequence: id };
  const keep = useCallback(
    (answer: Sequence) => {
      // A poll that began before would put older data over these.
      void client.cancelQueries({ queryKey: ["sequence", workspace, id] });
      client.setQueryData(["sequence", workspace, id], answer);
    },
    [client, workspace, id],
  );
  const save = useCallback(
    async (document: SequenceDocument, based_on: number) => {
      const answer = await take(
        api.PUT("/api/workspaces/{workspace}/sequences/{sequence}/draft", {
          params: { path: { workspace, sequence: id } },
          body: { document, based_on },
        }),
      );
      keep(answer);
      return answer;
    },
    [workspace, id, keep],
  );
  const back = useBack({ to: `/w/${workspace}/sequences`, label: "Sequences" });
  const draft = useDraft(sequence, save);
  const { saved, failed, dismiss } = useSaved(draft);
  const load = async () => {
    const answer = await take(
      api.GET("/api/workspaces/{workspace}/sequences/{sequence}", { params: { path } }),
    );
    keep(answer);
    return answer;
  };
  const act = (asked: (based_on: number) => Promise<Sequence>) =>
    saved(async (based_on) => {
      keep(await asked(based_on));
      await reload("catalogue", "sequences", "desk");
    });
  const putIn = (content: string) =>
    saved(async (based_on) => {
      const taken = await take(
        api.PUT("/api/workspaces/{workspace}/sequences/{sequence}/document.json", {
          params: { path, query: { based_on } },
          ...asIs(content, "application/json"),
        }),
      );
      draft.takeOver(await load());
      setMissing(taken.missing);
    });
  const discard = () =>
    saved(async (based_on) => {
      await take(
        api.POST("/api/workspaces/{workspace}/sequences/{sequence}/discard", {
          params: { path },
          body: { based_on },
        }),
      );
      draft.takeOver(await load());
    });
  const thing = useThing({ kind: "sequence", id, name: sequence.name, onChanged: load });
  const [selection, setSelection] = useState<Selection>();
  const [people, setPeople] = useState<PeopleFilter>();
  const [adding, setAdding] = useState(false);
  const [asked, setAsked] = useState<RehearsalAsked>();
  const rehearsal = useRehearsal(sequence, asked ?? ASKED, asked !== undefined);
  const routes = useQuery({
    queryKey: ["sources", workspace, "doors", id],
    queryFn: () =>
      take(
        api.GET("/api/workspaces/{workspace}/sequences/{sequence}/doors", {
          params: { path },
        }),
      ),
  });
  const { document } = draft;
  const [removed, setRemoved] = useState<Record<string, Way>>({});
  const select = (one: Selection | undefined) => {
    setSelection(one);
    if (one) setAsked(undefined);
  };
  const addLane = () => {
    const lane = { id: newId("l"), name: nextLaneName(document.lanes), steps: [], then: END };
    draft.edit((before) => ({ ...before, lanes: [...before.lanes, lane] }));
    select({ kind: "lane", id: lane.id });
  };
  const addDoor = (kind: Door["kind"]) => {
    const open = selection?.kind === "lane" ? selection.id : undefined;
    const door = newDoor(kind, open ?? document.lanes[0]?.id ?? "");
    draft.edit((before) => ({ ...before, doors: [...before.doors, door] }));
    select({ kind: "door", id: door.id });
  };
  const addGoal = () => {
    const goal = { id: newId("g"), name: "", event: "", when: null, within_days: null, then: END };
    draft.edit((before) => ({ ...before, goals: [...before.goals, goal] }));
    select({ kind: "goal", id: goal.id });
  };
  return (
    <Sheet
      title={sequence.name}
      name={sequence.name}
      back={back}
      state={
        <>
          <StateWord state={sequence.state} />
          <Typography variant="body2" color="textSecondary">
            {sequence.live_number ? (
              <>
                <Link to={`/w/${workspace}/sequences/${id}/revisions/${sequence.live_number}`}>
                  revision {sequence.live_number}
                </Link>
              </>
            ) : (
              "nobody is in it yet"
            )}
            {sequence.differs &&
              ` · the draft differs: ${counted(sequence.changes.length, "change", "changes")}`}
          </Typography>
        </>
      }
      actions={
        <>
          {!readOnly && <SaveNote state={draft.state} />}
          {!readOnly && <UndoRedo draft={draft} />}
          <DocumentFile
            address={`/api/workspaces/${workspace}/sequences/${id}/document.json`}
            readOnly={readOnly}
            differs={sequence.differs}
            changes={sequence.changes}
            onFile={putIn}
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
            findings={sequence.findings}
            saving={draft.state === "saving"}
            changes={sequence.changes}
            more={
              <Removed
                removed={sequence.removed}
                document={document}
                said={sequence.said}
                ways={removed}
                onChange={setRemoved}
              />
            }
            resuming={
              sequence.overdue > 0
                ? `${counted(sequence.overdue, "person is", "people are")} due by now and would continue at once.`
                : ""
            }
            onTurnOn={(note) =>
              act((based_on) =>
                take(
                  api.POST("/api/workspaces/{workspace}/sequences/{sequence}/turn-on", {
                    params: { path },
                    body: { note, based_on, removed },
                  }),
                ),
              )
            }
            onPause={() =>
              act(() =>
                take(
                  api.POST("/api/workspaces/{workspace}/sequences/{sequence}/pause", {
                    params: { path },
                  }),
                ),
              )
            }
            onResume={(spread_hours) =>
              act(() =>
                take(
                  api.POST("/api/workspaces/{workspace}/sequences/{sequence}/resume-over", {
                    params: { path },
                    body: { spread_hours },
                  }),
                ),
              )
            }
          />
        </>
      }
    >
      <Problem error={failed} onDismiss={dismiss} />
      <Unsaved draft={draft} load={load} />
      <MissingThings missing={missing} />
      <Summary
        sequence={sequence}
        document={document}
        said={sequence.said}
        lists={catalogue.lists}
        selection={selection}
        onSelect={select}
        onPeople={setPeople}
      />
      <FindingsAt findings={sequence.findings} place="sender" />
      <FindingsAt findings={sequence.findings} place="lanes" />
      <Stack direction={{ xs: "column", lg: "row" }} spacing={1.5} sx={{ pb: 2 }}>
        <Box sx={{ flex: 1, minWidth: 0 }}>
          <Lanes
            document={document}
            said={sequence.said}
            counts={asked ? [] : sequence.counts}
            findings={sequence.findings}
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
            <Stack direction="row" spacing={1} sx={{ pt: 1 }}>
              <Button onClick={addLane}>Add a lane</Button>
              <AddMenu label="Add a door" options={DOORS} onAdd={addDoor} />
              <Button onClick={addGoal}>Add a goal</Button>
            </Stack>
          )}
        </Box>
        {selection && (
          <SequencePanel
            selection={selection}
            own={id}
            document={document}
            catalogue={catalogue}
            said={sequence.said}
            counts={sequence.counts}
            findings={sequence.findings}
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
          said={sequence.said}
          routes={routes.data ?? []}
        />
      )}
      {people && (
        <PeopleThere
          sequence={id}
          filter={people}
          said={sequence.said}
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
