import MenuItem from "@mui/material/MenuItem";
import TextField from "@mui/material/TextField";

interface SmallSelectProps {
  label: string;
  value: string;
  options: [string, string][];
  readOnly: boolean;
  onChange: (value: string) => void;
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
      {options.map(([key, text]) => (
        <MenuItem key={key} value={key}>
          {text}
        </MenuItem>
      ))}
    </TextField>
  );
}
