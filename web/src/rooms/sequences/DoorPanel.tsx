import Checkbox from "@mui/material/Checkbox";
import Button from "@mui/material/Button";
import FormControlLabel from "@mui/material/FormControlLabel";
import MenuItem from "@mui/material/MenuItem";
import Stack from "@mui/material/Stack";
import TextField from "@mui/material/TextField";
import Typography from "@mui/material/Typography";
import { LimitedField } from "../../parts/LimitedField";
import { NumberField } from "../../parts/NumberField";
import { Picker } from "../../parts/Picker";
import { useMaking } from "../../parts/useMaking";
import { ValueBox } from "../conditions/ValueBox";
import { ClockField, WeekdayPicker, WhenForm, type PanelContext } from "./panelParts";
import { ClickOpens } from "./ClickOpens";
import { AGAIN, type Again, type Door, type Selection } from "./sequenceDocument";

interface DoorPanelProps extends PanelContext {
  door: Door;
  onSelect: (selection: Selection | undefined) => void;
}

/** One door: what opens it, for whom, and what a second entry means. */
export function DoorPanel(props: DoorPanelProps) {
  const { door, document, edit, readOnly, onSelect } = props;
  const change = (next: Door) =>
    edit((before) => ({
      ...before,
      doors: before.doors.map((one) => (one.id === door.id ? next : one)),
    }));
  return (
    <>
      <Stack spacing={1.5}>
        <Opens {...props} onChange={change} />
        <TextField
          select
          label="Leads to lane"
          value={door.lane ?? document.lanes[0]?.id ?? ""}
          disabled={readOnly}
          onChange={(event) => change({ ...door, lane: event.target.value })}
        >
          {document.lanes.map((lane) => (
            <MenuItem key={lane.id} value={lane.id}>
              {lane.name}
            </MenuItem>
          ))}
        </TextField>
        <TextField
          select
          label="Second entry"
          value={door.again ?? ""}
          disabled={readOnly}
          onChange={(event) =>
            change({ ...door, again: (event.target.value || null) as Again | null })
          }
          slotProps={{ select: { displayEmpty: true }, inputLabel: { shrink: true } }}
        >
          <MenuItem value="">
            As the sequence says{document.again ? `: ${AGAIN[document.again]}` : ""}
          </MenuItem>
          {(Object.keys(AGAIN) as Again[]).map((one) => (
            <MenuItem key={one} value={one}>
              {AGAIN[one]}
            </MenuItem>
          ))}
        </TextField>
      </Stack>
      <WhenForm
        name="Only for"
        none="everybody"
        when={door.only ?? null}
        context={props}
        onChange={(only) => change({ ...door, only })}
      />
      {door.only && (
        <FormControlLabel
          control={
            <Checkbox
              size="small"
              checked={!door.stays}
              disabled={readOnly}
              onChange={(event) => change({ ...door, stays: !event.target.checked })}
            />
          }
          label="They leave when this no longer holds"
        />
      )}
      {!readOnly && (
        <Stack direction="row" spacing={1} sx={{ mt: 2 }}>
          <Button onClick={() => change({ ...door, open: !door.open })}>
            {door.open ? "Close the door" : "Open the door"}
          </Button>
          <Button
            color="error"
            onClick={() => {
              edit((before) => ({
                ...before,
                doors: before.doors.filter((one) => one.id !== door.id),
              }));
              onSelect(undefined);
            }}
          >
            Remove
          </Button>
        </Stack>
      )}
    </>
  );
}

function Opens(props: DoorPanelProps & { onChange: (door: Door) => void }) {
  const { door, catalogue, readOnly, onChange } = props;
  const making = useMaking();
  const dates = catalogue.fields.filter((one) => one.type === "date");
  switch (door.kind) {
    case "route":
      return (
        <Typography variant="body2">
          What holds for all forms and other sources that lead into the lane: whether they may, for
          whom, and what a second entry means.
        </Typography>
      );
    case "by_hand":
      return (
        <Typography variant="body2">
          Members add one person, or everybody whom a condition fits, by “Add people”.
        </Typography>
      );
    case "tag":
      return (
        <Picker
          label="Tag"
          options={catalogue.tags}
          value={door.tag ?? null}
          disabled={readOnly}
          onChange={(tag) => onChange({ ...door, tag })}
          onMake={making.tag}
          makes="tag"
        />
      );
    case "list":
      return (
        <Picker
          label="List"
          options={catalogue.lists}
          value={door.list ?? null}
          disabled={readOnly}
          onChange={(list) => onChange({ ...door, list })}
        />
      );
    case "event":
      return (
        <LimitedField
          most={60}
          label="Name of the event"
          placeholder="booked"
          value={door.name}
          disabled={readOnly}
          onChange={(text) => onChange({ ...door, name: text })}
        />
      );
    case "click":
      return <ClickOpens {...props} door={door} />;
    case "field": {
      const field = catalogue.fields.find((one) => one.id === door.field);
      return (
        <>
          <Picker
            label="Field"
            options={catalogue.fields.map((one) => ({ id: one.id, name: one.label }))}
            value={door.field ?? null}
            disabled={readOnly}
            onChange={(chosen) => onChange({ ...door, field: chosen, value: "" })}
          />
          <ValueBox
            op="is"
            value={door.value}
            values={[]}
            type={field?.type ?? "text"}
            options={
              field?.choices.length ? field.choices.map((one) => [one.key, one.label]) : undefined
            }
            readOnly={readOnly}
            onChange={({ value = "" }) => onChange({ ...door, value })}
          />
          <Typography variant="caption" color="textSecondary">
            Without a value, any change counts.
          </Typography>
        </>
      );
    }
    case "condition":
      return (
        <WhenForm
          name="When this becomes true"
          none=""
          when={door.when}
          required
          context={props}
          onChange={(when) => when && onChange({ ...door, when })}
        />
      );
    case "date":
      return (
        <>
          <Picker
            label="Date field"
            options={dates.map((one) => ({ id: one.id, name: one.label }))}
            value={door.field ?? null}
            disabled={readOnly}
            onChange={(field) => onChange({ ...door, field })}
          />
          <NumberField
            label="Days after it (negative: before)"
            value={door.days}
            min={-366}
            max={3650}
            disabled={readOnly}
            onChange={(days) => onChange({ ...door, days })}
          />
          <ClockField
            label="At, in the person’s time zone"
            value={door.at}
            readOnly={readOnly}
            onChange={(at) => at && onChange({ ...door, at })}
          />
          <FormControlLabel
            control={
              <Checkbox
                size="small"
                checked={door.yearly}
                disabled={readOnly}
                onChange={(event) => onChange({ ...door, yearly: event.target.checked })}
              />
            }
            label="Every year (29 February counts on the 28th in other years)"
          />
        </>
      );
    case "schedule":
      return (
        <>
          <WeekdayPicker
            label="On these days"
            value={door.weekdays}
            readOnly={readOnly}
            onChange={(weekdays) => onChange({ ...door, weekdays })}
          />
          <ClockField
            label="At, in the person’s time zone"
            value={door.at}
            readOnly={readOnly}
            onChange={(at) => at && onChange({ ...door, at })}
          />
        </>
      );
  }
}
