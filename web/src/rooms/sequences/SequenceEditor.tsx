import MenuItem from "@mui/material/MenuItem";
import Typography from "@mui/material/Typography";
import { useQueryClient } from "@tanstack/react-query";
import { useCallback, useState } from "react";
import { Link } from "react-router";
import { api, asIs, take, type Schemas } from "../../api/client";
import { useMayChange, useReload, useSlug } from "../../api/workspace";
import { DocumentActions } from "../../parts/DocumentActions";
import { DocumentFile } from "../../parts/DocumentFile";
import { MissingThings } from "../../parts/MissingThings";
import { counted } from "../../parts/moment";
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
import { Doors } from "./Doors";
import { LaneBands } from "./LaneBands";
import type { SequenceDocument } from "./sequenceDocument";
import { SequenceList } from "./SequenceList";

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
  const figures = `${counted(sequence.under_way, "person", "people")} in progress · ${sequence.entered} total`;
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
                </Link>{" "}
                · {figures}
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
          <DocumentActions
            of={sequence}
            findings={sequence.findings}
            saving={draft.state === "saving"}
            changes={sequence.changes}
            says={
              sequence.under_way > 0
                ? `${counted(sequence.under_way, "person is", "people are")} in progress. They continue at their step in the new revision, or at the next step that still exists.`
                : undefined
            }
            onTurnOn={(note) =>
              act((based_on) =>
                take(
                  api.POST("/api/workspaces/{workspace}/sequences/{sequence}/turn-on", {
                    params: { path },
                    body: { note, based_on },
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
            onResume={() =>
              act(() =>
                take(
                  api.POST("/api/workspaces/{workspace}/sequences/{sequence}/resume", {
                    params: { path },
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
      <SequenceList
        document={draft.document}
        edit={draft.edit}
        lists={catalogue.lists}
        findings={sequence.findings}
        readOnly={readOnly}
      />
      <Doors sequence={id} />
      <LaneBands
        sequence={sequence}
        document={draft.document}
        edit={draft.edit}
        messages={catalogue.messages}
        readOnly={readOnly}
      />
      <RevisionList
        revisions={sequence.revisions}
        at={`/w/${workspace}/sequences/${id}/revisions`}
      />
    </Sheet>
  );
}
