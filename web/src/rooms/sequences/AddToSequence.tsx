import Button from "@mui/material/Button";
import Stack from "@mui/material/Stack";
import { AddMenu } from "../../parts/AddMenu";
import { newId } from "../../parts/newId";
import { DOORS, newDoor } from "./doorKinds";
import {
  END,
  nextLaneName,
  type Door,
  type Selection,
  type SequenceDocument,
} from "./sequenceDocument";

interface AddToSequenceProps {
  document: SequenceDocument;
  edit: (change: (before: SequenceDocument) => SequenceDocument) => void;
  selection: Selection | undefined;
  onSelect: (selection: Selection) => void;
}

/** The id of what adds to a sequence. */
export const ADD = "add";

/** Adds a lane, a door or a goal, and opens it. */
export function AddToSequence({ document, edit, selection, onSelect }: AddToSequenceProps) {
  const addLane = () => {
    const lane = { id: newId("l"), name: nextLaneName(document.lanes), steps: [], then: END };
    edit((before) => ({ ...before, lanes: [...before.lanes, lane] }));
    onSelect({ kind: "lane", id: lane.id });
  };
  const addDoor = (kind: Door["kind"]) => {
    const open = selection?.kind === "lane" ? selection.id : undefined;
    const door = newDoor(kind, open ?? document.lanes[0]?.id ?? "");
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
    <Stack id={ADD} direction="row" spacing={1} sx={{ pt: 1 }}>
      <Button onClick={addLane}>Add a lane</Button>
      <AddMenu label="Add a door" options={DOORS} onAdd={addDoor} />
      <Button onClick={addGoal}>Add a goal</Button>
    </Stack>
  );
}
