import Button from "@mui/material/Button";
import { DateBox } from "../../parts/dates/DateBox";
import { dayInWords } from "../../parts/formats";
import Autocomplete from "@mui/material/Autocomplete";
import Chip from "@mui/material/Chip";
import Stack from "@mui/material/Stack";
import TextField from "@mui/material/TextField";
import Typography from "@mui/material/Typography";
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { holidayCountriesQuery } from "../../api/settings";
import { type Schemas } from "../../api/client";
import { ClockField, WeekdayPicker } from "./panelParts";

type Times = Schemas["SendingTimes"];

interface TimesFormProps {
  times: Times;
  readOnly: boolean;
  onChange: (times: Times) => void;
}

/** When marketing goes out: weekdays, hours, quiet dates, where the person is. */
export function TimesForm({ times, readOnly, onChange }: TimesFormProps) {
  const countries = useQuery(holidayCountriesQuery());
  const known = countries.data ?? [];
  const [typed, setTyped] = useState("");
  const quiet = [
    ...times.quiet_dates.map((date) => ({ key: date, label: dayInWords(date), yearly: false })),
    ...times.quiet_yearly.map((day) => ({
      key: day,
      label: `${dayInWords(`2024-${day}`).replace(" 2024", "")} every year`,
      yearly: true,
    })),
  ];
  return (
    <Stack spacing={1.5} sx={{ maxWidth: 480 }}>
      <WeekdayPicker
        label="Days on which emails go out"
        value={times.weekdays}
        readOnly={readOnly}
        onChange={(weekdays) => onChange({ ...times, weekdays })}
      />
      <Stack direction="row" spacing={1}>
        <ClockField
          label="From"
          value={times.begins ?? null}
          optional
          readOnly={readOnly}
          onChange={(begins) => onChange({ ...times, begins })}
        />
        <ClockField
          label="Until"
          value={times.ends ?? null}
          optional
          readOnly={readOnly}
          onChange={(ends) => onChange({ ...times, ends })}
        />
      </Stack>
      <Autocomplete
        options={known}
        value={known.find((one) => one.code === times.holidays_of) ?? null}
        getOptionLabel={(one) => one.name}
        getOptionKey={(one) => one.code}
        isOptionEqualToValue={(a, b) => a.code === b.code}
        disabled={readOnly}
        onChange={(_, one) => onChange({ ...times, holidays_of: one?.code ?? "" })}
        renderInput={(params) => (
          <TextField {...params} label="Not on the public holidays of (optional)" />
        )}
      />
      {!readOnly && (
        <Stack direction="row" spacing={1} sx={{ alignItems: "center" }}>
          <DateBox
            kind="date"
            label="A quiet date"
            value={typed}
            onChange={setTyped}
            helperText="Press a date below to make it a yearly one"
          />
          <Button
            disabled={!typed}
            onClick={() => {
              if (!times.quiet_dates.includes(typed))
                onChange({ ...times, quiet_dates: [...times.quiet_dates, typed] });
              setTyped("");
            }}
          >
            Add
          </Button>
        </Stack>
      )}
      {quiet.length > 0 && (
        <Stack direction="row" useFlexGap spacing={0.75} sx={{ flexWrap: "wrap" }}>
          {quiet.map((one) => (
            <Chip
              key={one.key}
              size="small"
              label={one.label}
              {...(!readOnly &&
                !one.yearly && {
                  onClick: () =>
                    onChange({
                      ...times,
                      quiet_dates: times.quiet_dates.filter((date) => date !== one.key),
                      quiet_yearly: [...new Set([...times.quiet_yearly, one.key.slice(5)])],
                    }),
                })}
              {...(!readOnly && {
                onDelete: () =>
                  onChange({
                    ...times,
                    quiet_dates: times.quiet_dates.filter((date) => date !== one.key),
                    quiet_yearly: times.quiet_yearly.filter((day) => day !== one.key),
                  }),
              })}
            />
          ))}
        </Stack>
      )}
      <Typography variant="caption" color="textSecondary">
        An email that is due on a quiet date goes at the same time on the next day that is not, and
        then within these hours. All times are in the person’s own time zone.
      </Typography>
    </Stack>
  );
}
