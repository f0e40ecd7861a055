import Checkbox from "@mui/material/Checkbox";
import FormControlLabel from "@mui/material/FormControlLabel";
import Stack from "@mui/material/Stack";
import { Picker } from "../../parts/Picker";
import type { ActionFormProps } from "./ActionKind";
import type { Action } from "./ActionKind";

type Stop = Extract<Action, { kind: "stop_sequence" }>;

/** Which sequence a rule stops; all of them only where that is ticked. */
export function StopAction(props: ActionFormProps<Stop>) {
  const { action, catalogue, readOnly, onChange } = props;
  return (
    <Stack
      direction="row"
      spacing={1}
      useFlexGap
      sx={{ flexWrap: "wrap", alignItems: "center", pt: 1 }}
    >
      <FormControlLabel
        control={
          <Checkbox
            size="small"
            checked={action.every_sequence}
            disabled={readOnly}
            onChange={(event) =>
              onChange({ ...action, every_sequence: event.target.checked, sequence: null })
            }
          />
        }
        label="All sequences"
      />
      {!action.every_sequence && (
        <Stack sx={{ width: 300 }}>
          <Picker
            label="Sequence"
            options={catalogue.sequences}
            value={action.sequence ?? null}
            disabled={readOnly}
            onChange={(sequence) => onChange({ ...action, sequence })}
          />
        </Stack>
      )}
    </Stack>
  );
}
