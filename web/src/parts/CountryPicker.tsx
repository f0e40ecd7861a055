import Autocomplete from "@mui/material/Autocomplete";
import TextField from "@mui/material/TextField";
import { useQuery } from "@tanstack/react-query";
import { countriesQuery } from "../api/settings";

interface CountryPickerProps {
  label: string;
  value: string;
  onChange: (code: string) => void;
  disabled?: boolean;
  helperText?: string;
}

/** Chooses a country, kept as its two-letter code. */
export function CountryPicker(props: CountryPickerProps) {
  const { label, value, onChange, disabled = false, helperText } = props;
  const { data = [] } = useQuery(countriesQuery());
  return (
    <Autocomplete
      options={data}
      value={data.find((one) => one.code === value) ?? null}
      disabled={disabled}
      getOptionLabel={(one) => one.name}
      getOptionKey={(one) => one.code}
      onChange={(_, one) => onChange(one?.code ?? "")}
      sx={{ width: 230 }}
      renderInput={(params) => <TextField {...params} label={label} helperText={helperText} />}
    />
  );
}
