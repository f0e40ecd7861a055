import Button from "@mui/material/Button";
import Stack from "@mui/material/Stack";
import { useState } from "react";
import type { Schemas } from "../../api/client";
import { useAttempt } from "../../api/useAttempt";
import { AddMenu } from "../../parts/AddMenu";
import { NameDialog } from "../../parts/NameDialog";
import { Problem } from "../../parts/Problem";
import { newId } from "../../parts/newId";
import { useLeadIn } from "./useLeadIn";
import { DOORS, newDoor } from "./doorKinds";
import {
  END,
  nextLaneName,
  type Door,
  type Selection,
  type SequenceDocument,
} from "./sequenceDocument";

interface AddToSequenceProps {
  /** The id of the sequence. */
  sequence: string;
  /** The sources that could lead into it. */
  sources: Schemas["NamedOut"][];
  document: SequenceDocument;
  edit: (change: (before: SequenceDocument) => SequenceDocument) => void;
  selection: Selection | undefined;
  onSelect: (selection: Selection) => void;
}

/** The id of what adds to a sequence. */
export const ADD = "add";

const NEW_FORM = "new form";

/** Adds a lane, a door or a goal, and opens it. */
export function AddToSequence(props: AddToSequenceProps) {
  const { sequence, sources, document, edit, selection, onSelect } = props;
  const { leadIn } = useLeadIn(sequence);
  const { attempt, failed } = useAttempt();
  const [naming, setNaming] = useState(false);
  const addLane = () => {
    const lane = { id: newId("l"), name: nextLaneName(document.lanes), steps: [], then: END };
    edit((before) => ({ ...before, lanes: [...before.lanes, lane] }));
    onSelect({ kind: "lane", id: lane.id });
  };
  const lane =
    (selection?.kind === "lane" ? selection.id : undefined) ?? document.lanes[0]?.id ?? "";
  const addWayIn = (chosen: string) => {
    const source = sources.find((one) => one.id === chosen);
    if (chosen === NEW_FORM) setNaming(true);
    else if (source) void attempt(() => leadIn({ source: source.id }, lane));
    else addDoor(chosen as Door["kind"]);
  };
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
    <Stack id={ADD} direction="row" spacing={1} sx={{ pt: 1 }}>
      <Button onClick={addLane}>Add a lane</Button>
      <AddMenu
        label="Add a door"
        options={[
          ...sources.map((one): [string, string] => [one.id, `Whoever sends “${one.name}”`]),
          [NEW_FORM, "Whoever sends a new form …"],
          ...DOORS,
        ]}
        onAdd={addWayIn}
      />
      <Problem error={failed} />
      {naming && (
        <NameDialog
          title="A new form"
          label="What is it for?"
          hint="It is a draft, and leads into this sequence"
          action="Make the form"
          onClose={() => setNaming(false)}
          onName={async (name) => {
            await leadIn({ new_form: name }, lane);
            setNaming(false);
          }}
        />
      )}
      <Button onClick={addGoal}>Add a goal</Button>
    </Stack>
  );
}
