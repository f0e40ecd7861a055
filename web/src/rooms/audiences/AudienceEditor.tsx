import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import MenuItem from "@mui/material/MenuItem";
import Typography from "@mui/material/Typography";
import { useState } from "react";
import { api, take, type Schemas } from "../../api/client";
import { useMayChange, useSlug } from "../../api/workspace";
import { SaveNote } from "../../drafts/SaveNote";
import { UndoRedo } from "../../drafts/UndoRedo";
import { Unsaved } from "../../drafts/Unsaved";
import { useDocument } from "../../drafts/useDocument";
import { Band, BandRow } from "../../parts/Band";
import { focusOnId } from "../../parts/focus/focus";
import { FindingsAt, goTo, PreFlight } from "../../parts/Findings";
import { MoreMenu } from "../../parts/MoreMenu";
import { Problem } from "../../parts/Problem";
import { RevisionList } from "../../parts/RevisionList";
import { Sheet } from "../../parts/Sheet";
import { TurnOn } from "../../parts/TurnOn";
import { useThing } from "../../parts/thing/useThing";
import { useBack } from "../../parts/useBack";
import { useSettled } from "../../parts/useSettled";
import { ConditionGroup } from "../conditions/ConditionGroup";
import { AudienceExamples } from "./AudienceExamples";
import { AudienceSize } from "./AudienceSize";
import { exportItems } from "./exportItems";
import { FreezeDialog } from "./FreezeDialog";

/** The id of where the condition is edited. */
const EDIT = "edit-who";

interface AudienceEditorProps {
  audience: Schemas["AudienceOut"];
  catalogue: Schemas["CatalogueOut"];
}

/** The sheet of an audience while it is edited: what it asks, and whom that fits now. */
export function AudienceEditor({ audience, catalogue }: AudienceEditorProps) {
  const workspace = useSlug();
  const readOnly = !useMayChange();
  const back = useBack({ to: `/w/${workspace}/audiences`, label: "Audiences" });
  const { draft, load, compare, discard, act, failed, dismiss } = useDocument("audience", audience);
  const { edit } = draft;
  const thing = useThing({
    kind: "audience",
    id: audience.id,
    name: audience.name,
    onChanged: load,
  });
  const people = `/api/workspaces/${workspace}/audiences/${audience.id}/export`;
  const { who } = draft.document;
  const [open, setOpen] = useState(() => who.of.length === 0 && !readOnly);
  const [freezing, setFreezing] = useState(false);
  // What is counted follows once nobody types any more.
  const settled = useSettled(who, 300);
  const turnOn = (note: string) =>
    act((based_on) =>
      take(
        api.POST("/api/workspaces/{workspace}/audiences/{audience}/turn-on", {
          params: { path: { workspace, audience: audience.id } },
          body: { note, based_on },
        }),
      ),
    );
  return (
    <Sheet
      title={audience.name}
      name={audience.name}
      back={back}
      state={
        <Typography variant="body2" color="textSecondary">
          {audience.differs ? "The draft is not live yet" : "Always current"}
        </Typography>
      }
      actions={
        !readOnly && (
          <>
            <SaveNote state={draft.state} slow={draft.slow} />
            <UndoRedo draft={draft} />
            <MoreMenu>
              {(close) => [
                // What pre-flight stops would hold other people than was meant.
                ...(audience.findings.some((one) => one.stops) ? [] : exportItems(people, close)),
                who.of.length > 0 && (
                  <MenuItem
                    key="freeze"
                    onClick={() => {
                      close();
                      setFreezing(true);
                    }}
                  >
                    Freeze these people
                  </MenuItem>
                ),
                ...thing.items(close),
                audience.differs && (
                  <MenuItem key="discard" onClick={() => (close(), void discard())}>
                    Discard the draft
                  </MenuItem>
                ),
              ]}
            </MoreMenu>
            {thing.dialogs}
            {freezing && (
              <FreezeDialog who={who} starts={audience.name} onClose={() => setFreezing(false)} />
            )}
            <PreFlight findings={audience.findings} />
            {(audience.differs || draft.state === "saving") && (
              <TurnOn
                again
                findings={audience.findings}
                disabled={!audience.differs}
                changes={audience.changes}
                onSee={goTo}
                onTurnOn={turnOn}
              />
            )}
          </>
        )
      }
    >
      <Problem error={failed} onDismiss={dismiss} />
      <Unsaved draft={draft} load={load} compare={compare} />
      <Band name="Who" id="who">
        <BandRow>
          <Typography sx={{ mb: 1, overflowWrap: "anywhere" }} role="status">
            {who.of.length === 0
              ? "Everybody, because there is no condition yet."
              : audience.sentence}
          </Typography>
          <FindingsAt findings={audience.findings} place="who" />
          {open && (
            <Box id={EDIT}>
              <ConditionGroup
                group={who}
                catalogue={catalogue}
                asked={[]}
                readOnly={readOnly}
                onChange={(next) => edit((before) => ({ ...before, who: next }))}
              />
            </Box>
          )}
          {!readOnly && (
            <Button
              aria-expanded={open}
              onClick={() => {
                setOpen(!open);
                if (!open) focusOnId(EDIT, "into");
              }}
            >
              {open ? "Done" : "Edit condition"}
            </Button>
          )}
        </BandRow>
      </Band>
      <AudienceSize condition={settled} />
      <AudienceExamples condition={settled} />
      <RevisionList
        revisions={audience.revisions}
        at={`/w/${workspace}/audiences/${audience.id}/revisions`}
      />
    </Sheet>
  );
}
