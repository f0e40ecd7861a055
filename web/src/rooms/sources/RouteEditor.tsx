import { useMemo, useState } from "react";
import { useNavigate } from "react-router";
import { api, take, type Schemas } from "../../api/client";
import { useCatalogue, useMayChange, useSlug } from "../../api/workspace";
import { DocumentActions } from "../../parts/DocumentActions";
import { MissingThings } from "../../parts/MissingThings";
import { Problem } from "../../parts/Problem";
import { SaveNote } from "../../drafts/SaveNote";
import { UndoRedo } from "../../drafts/UndoRedo";
import { Sheet } from "../../parts/Sheet";
import { useSame } from "../../parts/useSame";
import { Unsaved } from "../../drafts/Unsaved";
import { useDocument } from "../../drafts/useDocument";
import { SampleContext, valuesRead } from "../services/SampleContext";
import { Bands } from "./Bands";
import { Lately } from "./Lately";
import { MoreOfRoute } from "./MoreOfRoute";
import { RouteState } from "./RouteState";
import { SampleName } from "./SampleName";
import { typedSample } from "./questions/registry";
import { seenSample, type Answer } from "./routeDocument";
import { useLately, useSample, useSeen } from "./useSource";

type Source = Schemas["SourceOut"];
const NOTHING: Record<string, unknown> = {};

/** The sheet while it is edited: a draft that saves itself, and a sample that follows. */
export function RouteEditor({ source }: { source: Source }) {
  const workspace = useSlug();
  const go = useNavigate();
  const mayChange = useMayChange();
  const { data: catalogue } = useCatalogue();
  const { data: lately } = useLately(source.id);
  const [chosen, setChosen] = useState<string>();
  const [typed, setTyped] = useState<Answer[]>();
  const [inSight, setInSight] = useState(true);

  const path = { workspace, source: source.id };
  const { draft, compare, load, act, saved, discard, putIn, missing, failed, dismiss } =
    useDocument("source", source);
  const { document } = draft;

  const { data: seen } = useSeen(source.id);
  const newest = lately?.submissions[0]?.id;
  const sampled = lately?.submissions.find((one) => one.id === (chosen ?? newest));
  const answers = useSame(
    typed ??
      sampled?.answers ??
      (source.kind === "form" ? typedSample(document.form.questions) : seenSample(seen?.questions)),
  );
  const context = typed ? NOTHING : (sampled?.context ?? NOTHING);
  const { data: sample } = useSample(source.id, document, answers, context, lately !== undefined);

  const passing = useMemo(
    () => ({ answers, values: valuesRead(sample), source: source.id, sequence: null }),
    [answers, sample, source.id],
  );
  const sendTest = (answers: Answer[]) =>
    saved(async () => {
      const made = await take(
        api.POST("/api/workspaces/{workspace}/sources/{source}/test", {
          params: { path },
          body: { answers },
        }),
      );
      await go(`/w/${workspace}/submissions/${made.submission}`);
    });
  return (
    <Sheet
      title={source.name}
      name={source.name}
      back={{ to: `/w/${workspace}/sources`, label: "Sources" }}
      state={<RouteState source={source} />}
      below={
        !inSight && (
          <SampleName name={typed ? "typed in" : (sampled?.answers[0]?.text ?? "no answers")} />
        )
      }
      actions={
        <>
          {mayChange && <SaveNote state={draft.state} slow={draft.slow} />}
          {mayChange && <UndoRedo draft={draft} />}
          <MoreOfRoute
            source={source}
            mayChange={mayChange}
            onLeave={(open) => saved(open)}
            onFile={putIn}
            onChanged={load}
            onDiscard={discard}
          />
          <DocumentActions
            of={source}
            findings={sample?.findings ?? source.findings}
            saving={draft.state === "saving"}
            changes={source.changes}
            onTurnOn={(note) =>
              act((based_on) =>
                take(
                  api.POST("/api/workspaces/{workspace}/sources/{source}/turn-on", {
                    params: { path },
                    body: { note, based_on },
                  }),
                ),
              )
            }
            onPause={() =>
              act(() =>
                take(
                  api.POST("/api/workspaces/{workspace}/sources/{source}/pause", {
                    params: { path },
                  }),
                ),
              )
            }
            onResume={() =>
              act(() =>
                take(
                  api.POST("/api/workspaces/{workspace}/sources/{source}/resume", {
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
      <Unsaved draft={draft} load={load} compare={compare} />
      <MissingThings missing={missing} />
      {catalogue && (
        <SampleContext value={passing}>
          <Bands
            source={source}
            document={document}
            edit={draft.edit}
            catalogue={catalogue}
            sample={sample}
            findings={sample?.findings ?? source.findings}
            words={sample?.words ?? source.words}
            readOnly={!mayChange}
            answers={answers}
            onType={setTyped}
            seen={seen?.questions ?? []}
            edits={draft.savedEdits}
            choice={{
              submissions: lately?.submissions ?? [],
              chosen: typed ? "typed" : (sampled?.id ?? "typed"),
              onChoose: (submission) => {
                setChosen(submission);
                setTyped(undefined);
              },
              onTypeOne: () => setTyped(sampled?.answers ?? typedSample(document.form.questions)),
              onTest: mayChange ? () => sendTest(answers) : undefined,
              onSight: setInSight,
            }}
          />
        </SampleContext>
      )}
      <Lately source={source} submissions={lately?.submissions ?? []} />
    </Sheet>
  );
}
