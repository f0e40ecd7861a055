import { foundQuery } from "../api/people";
import Autocomplete from "@mui/material/Autocomplete";
import TextField from "@mui/material/TextField";
import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { type Schemas } from "../api/client";
import { useSlug } from "../api/workspace";
import { useSettled } from "./useSettled";

type Person = Schemas["PersonLine"];

interface PersonPickerProps {
  label: string;
  value: Person | null;
  /** What an empty choice means. */
  none?: string;
  onChange: (person: Person | null) => void;
}

/** Finds a person by their name or address. */
export function PersonPicker({ label, value, none, onChange }: PersonPickerProps) {
  const workspace = useSlug();
  const [typed, setTyped] = useState("");
  const search = useSettled(typed, 250);
  const { data } = useQuery({
    ...foundQuery(workspace, search),
    placeholderData: keepPreviousData,
  });
  return (
    <Autocomplete
      options={data?.people.slice(0, 20) ?? []}
      value={value}
      filterOptions={(all) => all}
      getOptionLabel={nameOf}
      getOptionKey={(one) => one.id}
      isOptionEqualToValue={(a, b) => a.id === b.id}
      onInputChange={(_, text, reason) => reason !== "reset" && setTyped(text)}
      onChange={(_, person) => onChange(person)}
      noOptionsText="Nobody found"
      renderOption={({ key, ...rest }, one) => (
        <li key={key} {...rest}>
          <span>
            {nameOf(one)}
            {one.name && (
              <span style={{ opacity: 0.7, fontSize: "0.8125rem" }}> {one.address}</span>
            )}
          </span>
        </li>
      )}
      renderInput={(params) => (
        <TextField
          {...params}
          label={label}
          placeholder={none}
          slotProps={{
            ...params.slotProps,
            inputLabel: { ...params.slotProps.inputLabel, shrink: true },
          }}
        />
      )}
    />
  );
}

export function nameOf(person: Person): string {
  return person.name || person.address;
}
