import MenuItem from "@mui/material/MenuItem";
import TextField from "@mui/material/TextField";

interface SmallSelectProps {
  label: string;
  value: string;
  options: [string, string][];
  readOnly: boolean;
  onChange: (value: string) => void;
}

/** The options, and what is stored where it is none of them any more: it is shown until it is changed. */
export function withStored(options: [string, string][], value: string): [string, string][] {
  const known = value === "" || options.some(([key]) => key === value);
  return known ? options : [...options, [value, `${value} (no longer available)`]];
}

/** A choice among a few words, as wide as they are. */
export function SmallSelect({ label, value, options, readOnly, onChange }: SmallSelectProps) {
  return (
    <TextField
      select
      label={label}
      value={value}
      disabled={readOnly}
      onChange={(event) => onChange(event.target.value)}
      sx={{ width: "auto", minWidth: 110 }}
    >
      {withStored(options, value).map(([key, text]) => (
        <MenuItem key={key} value={key}>
          {text}
        </MenuItem>
      ))}
    </TextField>
  );
}
