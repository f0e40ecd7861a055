import Autocomplete, { createFilterOptions } from "@mui/material/Autocomplete";
import TextField from "@mui/material/TextField";
import type { Schemas } from "../../api/client";
import { fillingOf, fixedText, type Filling } from "./mapping";

const filter = createFilterOptions<Filling>();

interface FilledWithProps {
  line: Schemas["FarLine"];
  all: Filling[];
  name: string;
  readOnly: boolean;
  onChange: (line: Schemas["FarLine"]) => void;
}

/** What fills a field over there: a field here, an answer, or a text that is typed. */
export function FilledWith({ line, all, name, readOnly, onChange }: FilledWithProps) {
  const value = fillingOf(line, all);
  return (
    <Autocomplete<Filling>
      options={value && value.group === "Text" ? [value, ...all] : all}
      value={value}
      disabled={readOnly}
      groupBy={(one) => one.group}
      getOptionLabel={(one) => (one.group === "Text" ? `“${one.label}”` : one.label)}
      getOptionKey={(one) => one.key}
      isOptionEqualToValue={(a, b) => a.key === b.key}
      filterOptions={(options, state) => {
        const found = filter(options, state);
        const typed = state.inputValue.trim();
        const exists = options.some((one) => one.label === typed || `“${one.label}”` === typed);
        return typed && !exists ? [...found, fixedText(typed)] : found;
      }}
      onChange={(_, one) =>
        onChange({ ...line, take: one?.take ?? "field", what: one?.what ?? "" })
      }
      noOptionsText="Type a text that is the same for everybody"
      renderInput={(params) => (
        <TextField
          {...params}
          hiddenLabel
          placeholder="Choose"
          slotProps={{
            ...params.slotProps,
            htmlInput: { ...params.slotProps.htmlInput, "aria-label": `${name} is filled with` },
          }}
        />
      )}
    />
  );
}
