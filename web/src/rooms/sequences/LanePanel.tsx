import Button from "@mui/material/Button";
import Stack from "@mui/material/Stack";
import { LimitedField } from "../../parts/LimitedField";
import { WayPicker, type PanelContext } from "./panelParts";
import { type Lane, type Selection, withLane, withoutLane } from "./sequenceDocument";

interface LanePanelProps extends PanelContext {
  lane: Lane;
  words: Record<string, string>;
  onSelect: (selection: Selection | undefined) => void;
}

/** A lane: its name, and where it leads. */
export function LanePanel(props: LanePanelProps) {
  const { lane, document, edit, readOnly, words, onSelect } = props;
  const change = (part: Partial<Lane>) =>
    edit((before) => withLane(before, lane.id, (one) => ({ ...one, ...part })));
  return (
    <Stack spacing={1.5}>
      <LimitedField
        most={60}
        label="Name of the lane"
        value={lane.name}
        disabled={readOnly}
        onChange={(text) => change({ name: text })}
      />
      <WayPicker
        label="After its last step"
        way={lane.then}
        document={document}
        words={words}
        readOnly={readOnly}
        on={false}
        end="The sequence ends"
        onChange={(then) => change({ then })}
      />
      {!readOnly && document.lanes.length > 1 && (
        <Button
          color="error"
          sx={{ alignSelf: "flex-start" }}
          onClick={() => {
            edit((before) => withoutLane(before, lane.id));
            onSelect(undefined);
          }}
        >
          Remove the lane
        </Button>
      )}
    </Stack>
  );
}
