import Autocomplete from "@mui/material/Autocomplete";
import TextField from "@mui/material/TextField";

interface WordsBoxProps {
  label: string;
  value: string[];
  /** Words to choose from, besides those that are typed. */
  offered?: string[];
  readOnly: boolean;
  onChange: (words: string[]) => void;
}

/** Words that are typed in, each followed by Enter. */
export function WordsBox({ label, value, offered = [], readOnly, onChange }: WordsBoxProps) {
  return (
    <Autocomplete
      multiple
      freeSolo
      options={offered}
      value={value}
      disabled={readOnly}
      onChange={(_, words) => onChange(words.map((one) => one.trim()).filter(Boolean))}
      slotProps={{ chip: { size: "small", variant: "outlined" } }}
      sx={{ width: 280 }}
      renderInput={(params) => <TextField {...params} label={label} />}
    />
  );
}
