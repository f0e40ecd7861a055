import { AdapterDayjs } from "@mui/x-date-pickers/AdapterDayjs";
import { DesktopDatePicker } from "@mui/x-date-pickers/DesktopDatePicker";
import { DesktopDateTimePicker } from "@mui/x-date-pickers/DesktopDateTimePicker";
import { LocalizationProvider } from "@mui/x-date-pickers/LocalizationProvider";
import { TimeField } from "@mui/x-date-pickers/TimeField";
import dayjs, { type Dayjs } from "dayjs";
import "dayjs/locale/en-gb";
import { useState } from "react";
import { formatsNow } from "../formats";
import type { DateBoxProps } from "./dateBoxProps";

const DATES = { day: "DD MMM YYYY", month: "MMM DD, YYYY", year: "YYYY-MM-DD" };
const STORED = { date: "YYYY-MM-DD", time: "HH:mm", moment: "YYYY-MM-DDTHH:mm" };

/** A box for a date, a time or both, as the member writes them. */
export default function PickerBox(props: DateBoxProps) {
  const { kind, label, value, disabled = false, helperText, sx, onChange } = props;
  const { dates, clock } = formatsNow();
  const stored = STORED[kind];
  const ampm = clock === 12;
  const read = (text: string) =>
    text ? dayjs(kind === "time" ? `2026-01-01T${text}` : text) : null;
  // While it is typed it may be none yet, or one of the year 2: what was there stays until it is whole.
  const [typed, setTyped] = useState<[Dayjs | null, string]>(() => [read(value), value]);
  let [shown] = typed;
  if (typed[1] !== value) {
    shown = read(value);
    setTyped([shown, value]);
  }
  const told = (next: Dayjs | null) => {
    const whole = next === null ? "" : next.isValid() && next.year() > 999 && next.format(stored);
    setTyped([next, whole === false ? value : whole]);
    if (whole !== false && whole !== value) onChange(whole);
  };
  const time = ampm ? "hh:mm A" : "HH:mm";
  const shared = { label, value: shown, disabled, onChange: told };
  const box = { size: "small", fullWidth: true, helperText, sx } as const;
  const field = { clearable: true } as const;
  return (
    <LocalizationProvider
      dateAdapter={AdapterDayjs}
      adapterLocale={dates === "month" ? "en" : "en-gb"}
    >
      {kind === "date" && (
        <DesktopDatePicker
          {...shared}
          format={DATES[dates]}
          slotProps={{ textField: box, field, openPickerButton: { size: "small" } }}
        />
      )}
      {kind === "moment" && (
        <DesktopDateTimePicker
          {...shared}
          ampm={ampm}
          format={`${DATES[dates]} ${time}`}
          slotProps={{ textField: box, field, openPickerButton: { size: "small" } }}
        />
      )}
      {kind === "time" && <TimeField {...shared} ampm={ampm} format={time} {...box} />}
    </LocalizationProvider>
  );
}
