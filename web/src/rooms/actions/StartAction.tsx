import Box from "@mui/material/Box";
import MenuItem from "@mui/material/MenuItem";
import Stack from "@mui/material/Stack";
import TextField from "@mui/material/TextField";
import { Link } from "react-router";
import { useSlug } from "../../api/workspace";
import { Picker } from "../../parts/Picker";
import { useComeBack } from "../../parts/useBack";
import { useMaking } from "../../parts/useMaking";
import type { ActionFormProps, ActionOf } from "./ActionKind";

/** Which sequence starts, and at which lane. */
export function StartAction(props: ActionFormProps<ActionOf<"start_sequence">>) {
  const { action, catalogue, readOnly, onChange } = props;
  const { sequences } = catalogue;
  const workspace = useSlug();
  const making = useMaking();
  const comeBack = useComeBack();
  const chosen = sequences.find((one) => one.id === action.sequence);
  return (
    <Stack direction="row" spacing={1} sx={{ alignItems: "center", pt: 0.5 }}>
      <Box sx={{ flex: 1, minWidth: 0 }}>
        <Picker
          label="Sequence"
          options={sequences}
          value={action.sequence ?? null}
          disabled={readOnly}
          onChange={(sequence) => onChange({ ...action, sequence, lane: null })}
          onMake={making.sequence}
          makes="sequence"
        />
      </Box>
      {chosen && chosen.lanes.length > 1 && (
        <TextField
          select
          label="Lane"
          value={action.lane ?? chosen.lanes[0]?.id ?? ""}
          disabled={readOnly}
          onChange={(event) => onChange({ ...action, lane: event.target.value })}
          sx={{ width: 110 }}
        >
          {chosen.lanes.map((lane) => (
            <MenuItem key={lane.id} value={lane.id}>
              {lane.name}
            </MenuItem>
          ))}
        </TextField>
      )}
      {chosen && (
        <Link to={`/w/${workspace}/sequences/${chosen.id}`} state={comeBack}>
          Open it
        </Link>
      )}
    </Stack>
  );
}
