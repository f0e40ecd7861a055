import { DateBox } from "../../parts/dates/DateBox";
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import MenuItem from "@mui/material/MenuItem";
import Stack from "@mui/material/Stack";
import TextField from "@mui/material/TextField";
import ToggleButton from "@mui/material/ToggleButton";
import ToggleButtonGroup from "@mui/material/ToggleButtonGroup";
import Typography from "@mui/material/Typography";
import type { ReactNode } from "react";
import type { Schemas } from "../../api/client";
import { NumberField } from "../../parts/NumberField";
import { ConditionGroup } from "../conditions/ConditionGroup";
import type { Group } from "../conditions/condition";
import { type Duration, type SequenceDocument, type Way } from "./sequenceDocument";

/** What every form beside the lanes is given. */
export interface PanelContext {
  document: SequenceDocument;
  catalogue: Schemas["CatalogueOut"];
  edit: (change: (before: SequenceDocument) => SequenceDocument) => void;
  readOnly: boolean;
}

/** A small heading within the panel. */
export function Part({ name, children }: { name: string; children: ReactNode }) {
  return (
    <Box role="group" aria-label={name} sx={{ mt: 2 }}>
      <Typography variant="body2" component="h3" sx={{ fontWeight: 600, mb: 1 }}>
        {name}
      </Typography>
      {children}
    </Box>
  );
}

const UNITS: Duration["unit"][] = ["minutes", "hours", "days", "weeks"];

export function DurationFields(props: {
  label: string;
  duration: Duration;
  readOnly: boolean;
  onChange: (duration: Duration) => void;
}) {
  const { label, duration, readOnly, onChange } = props;
  return (
    <Stack direction="row" spacing={1}>
      <NumberField
        label={label}
        value={duration.amount}
        min={0}
        max={3650}
        disabled={readOnly}
        onChange={(amount) => onChange({ ...duration, amount })}
        sx={{ width: 110 }}
      />
      <TextField
        select
        label="Unit"
        value={duration.unit}
        disabled={readOnly}
        onChange={(event) =>
          onChange({ ...duration, unit: event.target.value as Duration["unit"] })
        }
      >
        {UNITS.map((unit) => (
          <MenuItem key={unit} value={unit}>
            {unit}
          </MenuItem>
        ))}
      </TextField>
    </Stack>
  );
}

const DAYS = ["Mon", "Tue", "Wed", "Thu", "Fri", "Sat", "Sun"];
const WHOLE = ["Monday", "Tuesday", "Wednesday", "Thursday", "Friday", "Saturday", "Sunday"];

export function WeekdayPicker(props: {
  label: string;
  value: number[];
  readOnly: boolean;
  onChange: (days: number[]) => void;
}) {
  const { label, value, readOnly, onChange } = props;
  return (
    <ToggleButtonGroup
      size="small"
      value={value}
      disabled={readOnly}
      onChange={(_, days: number[]) => onChange([...days].sort((a, b) => a - b))}
      aria-label={label}
      sx={{ width: "100%" }}
    >
      {DAYS.map((day, index) => (
        <ToggleButton
          key={day}
          value={index + 1}
          title={WHOLE[index]}
          sx={{
            flex: 1,
            px: 0,
            py: 0.5,
            textTransform: "none",
            fontSize: "0.8125rem",
            "&.Mui-selected, &.Mui-selected:hover": {
              bgcolor: "primary.main",
              color: "primary.contrastText",
            },
          }}
        >
          {day}
        </ToggleButton>
      ))}
    </ToggleButtonGroup>
  );
}

/** A clock time; the API writes seconds too. Empty: none. */
export function ClockField(props: {
  label: string;
  value: string | null;
  readOnly: boolean;
  optional?: boolean;
  onChange: (at: string | null) => void;
}) {
  const { label, value, readOnly, optional, onChange } = props;
  return (
    <DateBox
      kind="time"
      label={label}
      value={value?.slice(0, 5) ?? ""}
      disabled={readOnly}
      onChange={(at) => {
        if (at) onChange(`${at}:00`);
        else if (optional) onChange(null);
      }}
    />
  );
}

/** Where a way leads: on, out, or to a step of a lane. */
export function WayPicker(props: {
  label: string;
  way: Way;
  document: SequenceDocument;
  words: Record<string, string>;
  readOnly: boolean;
  /** Whether “on” is one of the choices; not so at the end of a lane. */
  on?: boolean;
  end?: string;
  onChange: (way: Way) => void;
}) {
  const { label, way, document, words, readOnly, on = true, end = "Leaves", onChange } = props;
  const value = way.to === "lane" ? `${way.lane ?? ""}/${way.step ?? ""}` : way.to;
  const known =
    way.to !== "lane" ||
    document.lanes.some(
      (lane) =>
        lane.id === way.lane && (!way.step || lane.steps.some((step) => step.id === way.step)),
    );
  return (
    <TextField
      select
      label={label}
      value={value}
      disabled={readOnly}
      error={!known}
      onChange={(event) => {
        const chosen = event.target.value;
        if (chosen === "on" || chosen === "end") onChange({ to: chosen, lane: null, step: null });
        else {
          const [lane = "", step = ""] = chosen.split("/");
          onChange({ to: "lane", lane, step: step || null });
        }
      }}
    >
      {on && <MenuItem value="on">Continues below</MenuItem>}
      <MenuItem value="end">{end}</MenuItem>
      {!known && <MenuItem value={value}>A step that is gone</MenuItem>}
      {document.lanes.flatMap((lane) => [
        <MenuItem key={lane.id} value={`${lane.id}/`}>
          Lane {lane.name}, from the top
        </MenuItem>,
        ...lane.steps.slice(1).map((step) => (
          <MenuItem key={step.id} value={`${lane.id}/${step.id}`} sx={{ pl: 4 }}>
            {lane.name}: {words[step.id] ?? step.kind}
          </MenuItem>
        )),
      ])}
    </TextField>
  );
}

/** A condition that may be left out. */
export function WhenForm(props: {
  name: string;
  none: string;
  when: Group | null;
  context: PanelContext;
  /** Whether it has to be there. */
  required?: boolean;
  onChange: (when: Group | null) => void;
}) {
  const { name, none, when, context, required, onChange } = props;
  const { catalogue, readOnly } = context;
  return (
    <Part name={name}>
      {when === null ? (
        <Stack direction="row" spacing={1} sx={{ alignItems: "baseline" }}>
          <Typography variant="body2" color="textSecondary">
            {none}
          </Typography>
          {!readOnly && (
            <Button onClick={() => onChange({ kind: "all", of: [] })}>Add condition</Button>
          )}
        </Stack>
      ) : (
        <>
          <ConditionGroup
            group={when}
            catalogue={catalogue}
            asked={[]}
            readOnly={readOnly}
            onChange={onChange}
          />
          {!required && !readOnly && (
            <Button onClick={() => onChange(null)}>Remove the condition</Button>
          )}
        </>
      )}
    </Part>
  );
}
