import Checkbox from "@mui/material/Checkbox";
import FormControlLabel from "@mui/material/FormControlLabel";

interface CheckProps {
  label: string;
  checked: boolean;
  readOnly: boolean;
  onChange: (checked: boolean) => void;
}

/** A box to tick, with its label. */
export function Check({ label, checked, readOnly, onChange }: CheckProps) {
  return (
    <FormControlLabel
      control={
        <Checkbox
          size="small"
          checked={checked}
          disabled={readOnly}
          onChange={(event) => onChange(event.target.checked)}
        />
      }
      label={label}
    />
  );
}
