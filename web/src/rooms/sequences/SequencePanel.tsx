import type { Schemas } from "../../api/client";
import { FindingsAt } from "../../parts/Findings";
import { SampleContext } from "../services/SampleContext";
import { ACTIONS } from "../actions/registry";
import { DoorPanel } from "./DoorPanel";
import { GoalPanel } from "./GoalPanel";
import { LanePanel } from "./LanePanel";
import { Panel, type Side } from "./Panel";
import type { PanelContext } from "./panelParts";
import { AgainPanel, LeavingPanel, ListPanel, TimesPanel } from "./SettingsPanels";
import { DOORS } from "./doorKinds";
import { isJoined, placeOf, type Selection, type SequenceDocument } from "./sequenceDocument";
import { StepPanel } from "./StepPanel";

interface SequencePanelProps extends PanelContext {
  selection: Selection;
  own: string;
  words: Record<string, string>;
  headings: Record<string, Schemas["Heading"]>;
  counts: Schemas["StepCount"][];
  findings: Schemas["Finding"][];
  onSelect: (selection: Selection | undefined) => void;
  onPeople: ((filter: { step: string; ended?: string }) => void) | undefined;
}

/** Where there is room for the panel: beside one or two lanes; else over the last lane, or over the first one
 * where what is open stands in the last. */
function sideOf(document: SequenceDocument, selection: Selection): Side {
  const beside = document.lanes.filter((one) => !isJoined(document, one)).map((one) => one.id);
  const door = document.doors.find((one) => one.id === selection.id);
  const lane =
    selection.kind === "step"
      ? placeOf(document, selection.id)?.lane.id
      : selection.kind === "door"
        ? door?.lane
        : selection.id;
  if (beside.length < 3) return "beside";
  return lane === beside.at(-1) ? "left" : "right";
}

/** The one thing that is open: a step, a door, a lane, or one of the settings. */
export function SequencePanel(props: SequencePanelProps) {
  const { selection, document, headings, counts, findings, onSelect } = props;
  const close = () => onSelect(undefined);
  const place = selection.kind === "step" ? selection.id : selection.kind;
  const shown = (title: string, children: React.ReactNode, at = place) => (
    <Panel title={title} side={sideOf(document, selection)} onClose={close}>
      {children}
      <FindingsAt findings={findings} place={at} />
    </Panel>
  );
  switch (selection.kind) {
    case "step": {
      const at = placeOf(document, selection.id);
      const step = at?.lane.steps[at.index];
      if (!step) return null;
      return shown(
        step.kind === "act" ? ACTIONS[step.action.kind].words : (headings[step.id]?.verb ?? "Step"),
        <SampleContext value={{ answers: [], values: {}, source: null, sequence: props.own }}>
          <StepPanel
            {...props}
            key={step.id}
            step={step}
            count={counts.find((one) => one.step === step.id)}
          />
        </SampleContext>,
      );
    }
    case "door": {
      const door = document.doors.find((one) => one.id === selection.id);
      if (!door) return null;
      const title = DOORS.find(([kind]) => kind === door.kind)?.[1] ?? "Door";
      return shown(`Door: ${title}`, <DoorPanel {...props} key={door.id} door={door} />, door.id);
    }
    case "lane": {
      const lane = document.lanes.find((one) => one.id === selection.id);
      if (!lane) return null;
      return shown(`Lane ${lane.name}`, <LanePanel {...props} lane={lane} />, `end-${lane.id}`);
    }
    case "goal": {
      const goal = document.goals.find((one) => one.id === selection.id);
      if (!goal) return null;
      return shown("Goal", <GoalPanel {...props} goal={goal} />, goal.id);
    }
    case "leaving":
      return shown("Leaving", <LeavingPanel {...props} />);
    case "times":
      return shown("Sending times", <TimesPanel {...props} />);
    case "list":
      return shown("List and sender", <ListPanel {...props} />);
    case "again":
      return shown("Second entry", <AgainPanel {...props} />);
  }
}
