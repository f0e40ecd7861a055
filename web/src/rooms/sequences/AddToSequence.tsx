import Button from "@mui/material/Button";
import Stack from "@mui/material/Stack";
import { useState } from "react";
import type { Schemas } from "../../api/client";
import { AddMenu } from "../../parts/AddMenu";
import { newId } from "../../parts/newId";
import { LeadInDialog } from "./LeadInDialog";
import { useLeadIn } from "./useLeadIn";
import { seriesAdded } from "./series";
import { SeriesDialog } from "./SeriesDialog";
import { DOORS, newDoor } from "./doorKinds";
import {
  END,
  isJoined,
  nextLaneName,
  type Door,
  type Selection,
  type SequenceDocument,
} from "./sequenceDocument";

interface AddToSequenceProps {
  /** The id of the sequence. */
  sequence: string;
  catalogue: Schemas["CatalogueOut"];
  /** The sources that lead into it. */
  routes: Schemas["DoorOut"][];
  document: SequenceDocument;
  /** Saves the draft of the sequence. */
  flush: () => Promise<unknown>;
  edit: (change: (before: SequenceDocument) => SequenceDocument) => void;
  selection: Selection | undefined;
  /** A file that was dropped on the lanes, to be read as a series of emails. */
  dropped: File | undefined;
  onDropped: (file: File | undefined) => void;
  onSelect: (selection: Selection) => void;
}

/** The id of what adds to a sequence. */
export const ADD = "add";

const LEAD_IN = "lead in";

/** Adds a lane, a door or a goal, and opens it. */
export function AddToSequence(props: AddToSequenceProps) {
  const { sequence, catalogue, routes, document, flush, edit, selection, onSelect } = props;
  const { dropped, onDropped } = props;
  const { leadIn } = useLeadIn(sequence);
  const [leading, setLeading] = useState(false);
  const [pasting, setPasting] = useState(false);
  const addLane = () => {
    const lane = { id: newId("l"), name: nextLaneName(document.lanes), steps: [], then: END };
    edit((before) => ({ ...before, lanes: [...before.lanes, lane] }));
    onSelect({ kind: "lane", id: lane.id });
  };
  // The open lane, or else the first into which nothing leads yet.
  const first = document.lanes[0]?.id ?? "";
  const entered = new Set([
    ...document.doors.map((one) => one.lane ?? first),
    ...routes.map((one) => one.lane_id),
  ]);
  const lane =
    (selection?.kind === "lane" ? selection.id : undefined) ??
    document.lanes.find((one) => !entered.has(one.id) && !isJoined(document, one))?.id ??
    first;
  const addWayIn = (chosen: Door["kind"] | typeof LEAD_IN) =>
    chosen === LEAD_IN ? setLeading(true) : addDoor(chosen);
  const addDoor = (kind: Door["kind"]) => {
    const door = newDoor(kind, lane);
    edit((before) => ({ ...before, doors: [...before.doors, door] }));
    onSelect({ kind: "door", id: door.id });
  };
  const addGoal = () => {
    const goal = {
      id: newId("g"),
      name: "",
      event: "",
      when: null,
      within_days: null,
      then: END,
      may_lead_back: false,
    };
    edit((before) => ({ ...before, goals: [...before.goals, goal] }));
    onSelect({ kind: "goal", id: goal.id });
  };
  return (
    <Stack id={ADD} direction="row" spacing={1} useFlexGap sx={{ pt: 1, flexWrap: "wrap" }}>
      <Button onClick={addLane}>Add a lane</Button>
      <AddMenu
        label="Add a door"
        options={[[LEAD_IN, "Somebody sends a form"], ...DOORS]}
        onAdd={addWayIn}
      />
      {leading && (
        <LeadInDialog
          document={document}
          catalogue={catalogue}
          lane={lane}
          onLead={async (lead) => {
            // The lane, and the list that people join, are where the form is made.
            await flush();
            await leadIn(lead);
          }}
          onClose={() => setLeading(false)}
        />
      )}
      <Button onClick={addGoal}>Add a goal</Button>
      {document.lanes.length > 0 && (
        <Button onClick={() => setPasting(true)}>Add emails from a text</Button>
      )}
      {document.lanes.length > 0 && (pasting || dropped) && (
        <SeriesDialog
          document={document}
          lane={lane}
          file={dropped}
          onAdd={(into, emails) => edit((before) => seriesAdded(before, into, emails))}
          onClose={() => {
            setPasting(false);
            onDropped(undefined);
          }}
        />
      )}
    </Stack>
  );
}
