import Button from "@mui/material/Button";
import Checkbox from "@mui/material/Checkbox";
import FormControlLabel from "@mui/material/FormControlLabel";
import Stack from "@mui/material/Stack";
import { LimitedField } from "../../parts/LimitedField";
import { NumberField } from "../../parts/NumberField";
import { WayPicker, WhenForm, type PanelContext } from "./panelParts";
import { type Goal, type Selection } from "./sequenceDocument";

interface GoalPanelProps extends PanelContext {
  goal: Goal;
  words: Record<string, string>;
  onSelect: (selection: Selection | undefined) => void;
}

/** A goal: what reaches it, how long it counts, and where it leads. */
export function GoalPanel(props: GoalPanelProps) {
  const { goal, document, edit, readOnly, words, onSelect } = props;
  const change = (part: Partial<Goal>) =>
    edit((before) => ({
      ...before,
      goals: before.goals.map((one) => (one.id === goal.id ? { ...one, ...part } : one)),
    }));
  return (
    <>
      <Stack spacing={1.5}>
        <LimitedField
          most={80}
          label="Name of the goal"
          placeholder="bought a telescope"
          value={goal.name}
          disabled={readOnly}
          onChange={(text) => change({ name: text })}
        />
        <LimitedField
          most={60}
          label="Reached by the event"
          placeholder="bought"
          value={goal.event}
          disabled={readOnly}
          onChange={(text) => change({ event: text })}
          helperText="Or leave it empty and add a condition"
        />
        <NumberField
          label="Counts within (days; 0: as long as they are in it)"
          value={goal.within_days ?? 0}
          min={0}
          max={3650}
          disabled={readOnly}
          onChange={(days) => change({ within_days: days || null })}
        />
        <WayPicker
          label="When it is reached"
          way={goal.then}
          document={document}
          words={words}
          readOnly={readOnly}
          on={false}
          end="Leaves: the rest is skipped"
          onChange={(then) => change({ then })}
        />
        {goal.then.to === "lane" && (
          <FormControlLabel
            control={
              <Checkbox
                checked={goal.may_lead_back}
                disabled={readOnly}
                onChange={(event) => change({ may_lead_back: event.target.checked })}
              />
            }
            label="Move people back to steps they have passed, so that they get those emails again"
          />
        )}
      </Stack>
      {!goal.event && (
        <WhenForm
          name="Reached when"
          none="no condition yet"
          when={goal.when ?? null}
          context={props}
          onChange={(when) => change({ when })}
        />
      )}
      {!readOnly && (
        <Button
          color="error"
          sx={{ mt: 2 }}
          onClick={() => {
            edit((before) => ({
              ...before,
              goals: before.goals.filter((one) => one.id !== goal.id),
            }));
            onSelect(undefined);
          }}
        >
          Remove the goal
        </Button>
      )}
    </>
  );
}
