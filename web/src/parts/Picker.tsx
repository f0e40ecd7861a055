import { number } from "./formats";
import Autocomplete, { createFilterOptions } from "@mui/material/Autocomplete";
import TextField from "@mui/material/TextField";
import Typography from "@mui/material/Typography";
import { useMemo, useState } from "react";
import { useLatest } from "./useLatest";

export interface Option {
  id: string;
  name: string;
  /** Of a tag how many people have it. */
  people?: number;
}

interface PickerProps {
  label: string;
  options: Option[];
  value: string | null;
  onChange: (id: string | null) => void;
  /** Makes what is missing in place, and gives its id; without it only what exists is offered. */
  onMake?: (name: string) => Promise<string>;
  /** What is made, as a word: "field", "tag". */
  makes?: string;
  error?: boolean;
  disabled?: boolean;
}

interface Row extends Option {
  make?: boolean;
}

const filter = createFilterOptions<Row>();

/** Chooses one of what exists, or makes what is missing without leaving the line. */
export function Picker(props: PickerProps) {
  const { label, options, value, onChange, onMake, makes = "one", error, disabled } = props;
  const [wrong, setWrong] = useState<string>();
  const gone = value !== null && !options.some((one) => one.id === value);
  const named = options.find((one) => one.id === value)?.name;
  // The same object as long as it means the same: a new one would reset what is being typed.
  const selected = useMemo<Row | null>(
    () => (value === null || named === undefined ? null : { id: value, name: named }),
    [value, named],
  );
  const chosenRef = useLatest(value);
  const report = useLatest(onChange);
  const choose = async (row: Row | null) => {
    setWrong(undefined);
    if (!row?.make) {
      chosenRef.current = row?.id ?? null;
      onChange(chosenRef.current);
      return;
    }
    const before = chosenRef.current;
    try {
      const made = onMake && (await onMake(row.name));
      // Something else chosen meanwhile stays.
      if (made !== undefined && chosenRef.current === before) report.current(made);
    } catch (caught) {
      setWrong(caught instanceof Error ? caught.message : "It could not be made.");
    }
  };
  return (
    <Autocomplete<Row>
      options={options}
      value={selected}
      disabled={disabled}
      onChange={(_, row) => void choose(row)}
      getOptionLabel={(row) => row.name}
      getOptionKey={(row) => row.id}
      isOptionEqualToValue={(a, b) => a.id === b.id}
      filterOptions={(rows, state) => {
        const found = filter(rows, state);
        const typed = state.inputValue.trim();
        const exists = options.some((one) => one.name.toLowerCase() === typed.toLowerCase());
        if (onMake && typed && !exists) found.push({ id: "make", name: typed, make: true });
        return found;
      }}
      renderOption={({ key, ...rest }, row) => (
        <li key={key} {...rest}>
          {row.make ? `Create the ${makes} “${row.name}”` : <Named row={row} />}
        </li>
      )}
      noOptionsText={onMake ? `Type a name to create a ${makes}` : "No matches"}
      renderInput={(params) => (
        <TextField
          {...params}
          label={label}
          error={error || gone || Boolean(wrong)}
          helperText={wrong ?? (gone ? "No longer exists: choose another" : undefined)}
        />
      )}
    />
  );
}

/** A choice by its name, with how many people it stands for where that is known. */
export function Named({ row }: { row: Option }) {
  return (
    <>
      {row.name}
      {row.people !== undefined && (
        <Typography
          component="span"
          variant="body2"
          color="textSecondary"
          sx={{ ml: "auto", pl: 2 }}
        >
          {number(row.people)}
        </Typography>
      )}
    </>
  );
}
