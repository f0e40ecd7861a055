import MenuItem from "@mui/material/MenuItem";
import TextField from "@mui/material/TextField";
import { LANGUAGES } from "./languages";

interface LanguageSelectProps {
  label: string;
  value: string;
  /** What stands for an empty value, such as “As the workspace”; without it there has to be a language. */
  inherits?: string;
  disabled?: boolean;
  onChange: (language: string) => void;
}

/** The language of a text that other people read. */
export function LanguageSelect(props: LanguageSelectProps) {
  const { label, value, inherits, disabled = false, onChange } = props;
  const known = !value || LANGUAGES.some(([code]) => code === value);
  return (
    <TextField
      select
      label={label}
      value={value}
      disabled={disabled}
      sx={{ maxWidth: 260 }}
      onChange={(event) => onChange(event.target.value)}
      slotProps={{ select: { displayEmpty: true }, inputLabel: { shrink: true } }}
    >
      {inherits && <MenuItem value="">{inherits}</MenuItem>}
      {!known && <MenuItem value={value}>{value}</MenuItem>}
      {LANGUAGES.map(([code, name]) => (
        <MenuItem key={code} value={code}>
          {name}
        </MenuItem>
      ))}
    </TextField>
  );
}
