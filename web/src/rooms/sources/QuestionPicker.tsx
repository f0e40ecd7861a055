import Autocomplete from "@mui/material/Autocomplete";
import Box from "@mui/material/Box";
import TextField from "@mui/material/TextField";
import Typography from "@mui/material/Typography";
import { useMemo } from "react";
import { typical, type Asked } from "./asked";

interface QuestionPickerProps {
  label: string;
  asked: Asked[];
  value: string;
  onChange: (name: string) => void;
  disabled: boolean;
  /** Whether nothing comes by this name. */
  unknown?: boolean;
}

/** Chooses a question: of those asked, of those that came in, or what is known besides. */
export function QuestionPicker(props: QuestionPickerProps) {
  const { label, asked, value, onChange, disabled, unknown } = props;
  const missing = value !== "" && !asked.some((one) => one.name === value);
  const options = useMemo(
    () =>
      missing
        ? [
            { name: value, label: value, group: "Came in", values: [], type: "text" } as Asked,
            ...asked,
          ]
        : asked,
    [asked, missing, value],
  );
  const selected = options.find((one) => one.name === value) ?? null;
  return (
    <Autocomplete<Asked>
      options={options}
      value={selected}
      disabled={disabled}
      groupBy={(one) => one.group}
      getOptionLabel={(one) => one.label}
      getOptionKey={(one) => one.name}
      isOptionEqualToValue={(a, b) => a.name === b.name}
      onChange={(_, one) => onChange(one?.name ?? "")}
      renderOption={({ key, ...rest }, one) => (
        <Box component="li" key={key} {...rest}>
          <span>
            {one.label}
            <Typography component="span" variant="caption" color="textSecondary">
              {" "}
              {typical(one)}
            </Typography>
          </span>
        </Box>
      )}
      noOptionsText="No matches"
      renderInput={(params) => (
        <TextField {...params} label={label} error={Boolean(unknown && missing)} />
      )}
    />
  );
}
