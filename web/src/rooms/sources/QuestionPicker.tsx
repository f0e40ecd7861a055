import Autocomplete, { createFilterOptions } from "@mui/material/Autocomplete";
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
  /** Whether a name can be typed that has not come yet. */
  typed?: boolean;
}

const filter = createFilterOptions<Asked>();

const named = (name: string): Asked => ({
  name,
  label: name,
  group: "Typed",
  values: [],
  type: "text",
});

/** Chooses a question: of those asked, of those that came in, or what is known besides. */
export function QuestionPicker(props: QuestionPickerProps) {
  const { label, asked, value, onChange, disabled, unknown, typed } = props;
  const missing = value !== "" && !asked.some((one) => one.name === value);
  const options = useMemo(
    () => (missing ? [named(value), ...asked] : asked),
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
      filterOptions={(options, state) => {
        const found = filter(options, state);
        const name = state.inputValue.trim();
        // Names are told apart by their case, so no other spelling stands in for what was typed.
        const exists = options.some((one) => one.name === name || one.label === name);
        return typed && name && !exists ? [...found, named(name)] : found;
      }}
      onChange={(_, one) => onChange(one?.name ?? "")}
      renderOption={({ key, ...rest }, one) => (
        <Box component="li" key={key} {...rest}>
          <span>
            {options.includes(one) ? one.label : `Read the name “${one.name}”`}
            <Typography component="span" variant="caption" color="textSecondary">
              {" "}
              {typical(one)}
            </Typography>
          </span>
        </Box>
      )}
      noOptionsText={typed ? "Type the name that the form or program sends" : "No matches"}
      renderInput={(params) => (
        <TextField {...params} label={label} error={Boolean(unknown && missing)} />
      )}
    />
  );
}
