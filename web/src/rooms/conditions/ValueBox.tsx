import { DateBox } from "../../parts/dates/DateBox";
import Autocomplete from "@mui/material/Autocomplete";
import MenuItem from "@mui/material/MenuItem";
import TextField from "@mui/material/TextField";
import type { FieldType } from "../fields/fieldTypes";
import { CountryPicker } from "../../parts/CountryPicker";
import type { Comparison } from "./condition";
import { withStored } from "./SmallSelect";

interface ValueBoxProps {
  op: Comparison;
  value: string;
  values: string[];
  type?: FieldType;
  /** Keys and labels, where only some values can be. */
  options?: [string, string][] | undefined;
  /** What the box is called; by itself it says what kind of thing is wanted. */
  label?: string;
  readOnly: boolean;
  onChange: (change: { value?: string; values?: string[] }) => void;
}

/** What something is compared with: a text, a number, a date, a choice, a country, or several. */
export function ValueBox(props: ValueBoxProps) {
  const { op, value, values, type = "text", readOnly, onChange } = props;
  const options =
    props.options ??
    (type === "yes_no"
      ? [["yes", "yes"] as [string, string], ["no", "no"] as [string, string]]
      : undefined);
  if (op === "empty" || op === "not_empty") return null;
  if (op === "one_of") {
    const label = (key: string) => options?.find(([one]) => one === key)?.[1] ?? key;
    return (
      <Autocomplete
        multiple
        freeSolo={!options}
        options={options?.map(([key]) => key) ?? []}
        getOptionLabel={label}
        value={values}
        disabled={readOnly}
        onChange={(_, chosen) => onChange({ values: chosen })}
        slotProps={{ chip: { size: "small", variant: "outlined" } }}
        sx={{ width: 260 }}
        renderInput={(params) => <TextField {...params} label={props.label ?? "Any of these"} />}
      />
    );
  }
  if (type === "country") {
    return (
      <CountryPicker
        label={props.label ?? "Country"}
        value={value}
        disabled={readOnly}
        onChange={(code) => onChange({ value: code })}
      />
    );
  }
  if (options) {
    return (
      <TextField
        select
        label={props.label ?? "Value"}
        value={value}
        disabled={readOnly}
        onChange={(event) => onChange({ value: event.target.value })}
        sx={{ width: 160 }}
      >
        {withStored(options, value).map(([key, text]) => (
          <MenuItem key={key} value={key}>
            {text}
          </MenuItem>
        ))}
      </TextField>
    );
  }
  const days = op === "in_last_days" || op === "in_next_days";
  const kind =
    days || type === "number"
      ? "number"
      : type === "date" && !value.startsWith("--")
        ? "date"
        : "text";
  if (kind === "date") {
    return (
      <DateBox
        kind="date"
        label={props.label ?? "Value"}
        value={value}
        disabled={readOnly}
        onChange={(day) => onChange({ value: day })}
        sx={{ width: 180 }}
      />
    );
  }
  return (
    <TextField
      type={kind}
      label={props.label ?? (days ? "Days" : "Value")}
      value={value}
      disabled={readOnly}
      onChange={(event) => onChange({ value: event.target.value })}
      sx={{ width: 160 }}
      slotProps={{ inputLabel: { shrink: value !== "" } }}
    />
  );
}
