import MenuItem from "@mui/material/MenuItem";
import TextField from "@mui/material/TextField";
import { FIELD_TYPES, type FieldType } from "./fieldTypes";

interface TypePickerProps {
  value: FieldType;
  onChange: (type: FieldType) => void;
}

/** Chooses what a field holds; the address is the one field of its type. */
export function TypePicker({ value, onChange }: TypePickerProps) {
  return (
    <TextField
      select
      label="Holds"
      value={value}
      onChange={(event) => onChange(event.target.value as FieldType)}
    >
      {(Object.keys(FIELD_TYPES) as FieldType[])
        .filter((one) => one !== "email")
        .map((one) => (
          <MenuItem key={one} value={one}>
            {FIELD_TYPES[one].replaceAll("-", " ")}
          </MenuItem>
        ))}
    </TextField>
  );
}
