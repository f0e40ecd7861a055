import Autocomplete, { createFilterOptions } from "@mui/material/Autocomplete";
import TextField from "@mui/material/TextField";
import { useMemo, useState } from "react";
import { Named, type Option } from "./Picker";
import { useLatest } from "./useLatest";

interface TagPickerProps {
  label: string;
  tags: Option[];
  value: string[];
  onChange: (ids: string[]) => void;
  onMake: (name: string) => Promise<string>;
  disabled?: boolean;
  /** A name that fits what the tags are for, offered where none is chosen and nothing typed. */
  suggests?: string;
}

interface Row extends Option {
  make?: boolean;
}

const filter = createFilterOptions<Row>();

/** Chooses tags, and makes the ones that are missing. */
export function TagPicker(props: TagPickerProps) {
  const { label, tags, value, onChange, onMake, disabled, suggests = "" } = props;
  const [wrong, setWrong] = useState<string>();
  // The same array as long as it says the same: a new one would reset what is being typed.
  const chips = JSON.stringify(
    value.map((id) => ({
      id,
      name: tags.find((tag) => tag.id === id)?.name ?? "a tag that is gone",
    })),
  );
  const selected = useMemo(() => JSON.parse(chips) as Row[], [chips]);
  // What is chosen by now: a tag may be chosen or removed while another one is being made.
  const chosenRef = useLatest(value);
  const report = useLatest(onChange);
  const choose = async (rows: Row[]) => {
    setWrong(undefined);
    const [missing] = rows.filter((row) => row.make);
    if (!missing) {
      chosenRef.current = rows.map((row) => row.id);
      onChange(chosenRef.current);
      return;
    }
    try {
      const made = await onMake(missing.name);
      report.current([...chosenRef.current.filter((id) => id !== made), made]);
    } catch (caught) {
      setWrong(caught instanceof Error ? caught.message : "The tag could not be made.");
    }
  };
  return (
    <Autocomplete<Row, true>
      multiple
      disabled={disabled}
      options={tags}
      value={selected}
      filterSelectedOptions
      onChange={(_, rows) => void choose(rows)}
      getOptionLabel={(row) => row.name}
      getOptionKey={(row) => row.id}
      isOptionEqualToValue={(a, b) => a.id === b.id}
      filterOptions={(rows, state) => {
        const found = filter(rows, state);
        const typed = state.inputValue.trim();
        const name = typed || (value.length === 0 ? suggests : "");
        const exists = tags.some((one) => one.name.toLowerCase() === name.toLowerCase());
        const made = { id: "make", name, make: true };
        // What is offered stands first, what is typed after what fits it.
        if (name && !exists) return typed ? [...found, made] : [made, ...found];
        return found;
      }}
      renderOption={({ key, ...rest }, row) => (
        <li key={key} {...rest}>
          {row.make ? `Create the tag “${row.name}”` : <Named row={row} />}
        </li>
      )}
      noOptionsText="Type a name to create a tag"
      slotProps={{ chip: { size: "small", variant: "outlined" } }}
      renderInput={(params) => (
        <TextField {...params} label={label} error={Boolean(wrong)} helperText={wrong} />
      )}
    />
  );
}
