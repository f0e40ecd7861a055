import TextField from "@mui/material/TextField";
import { useEffect, useRef, useState } from "react";
import { useDebouncedCallback } from "use-debounce";

interface SearchFieldProps {
  label: string;
  /** What is searched for now, as the address of the screen holds it. */
  value: string;
  onSearch: (text: string) => void;
  width?: number;
  /** In the head of a sheet: the label stands in the box, so that the head stays low. */
  inHead?: boolean;
}

/** Milliseconds without a key after which what was typed is searched for. */
const QUIET = 250;

/** A box to search in: every key shows at once, the search follows when the typing rests. */
export function SearchField({
  label,
  value,
  onSearch,
  width = 220,
  inHead = false,
}: SearchFieldProps) {
  const [typed, setTyped] = useState(() => value);
  const asked = useRef(value);
  const search = useDebouncedCallback((text: string) => {
    asked.current = text;
    onSearch(text);
  }, QUIET);
  useEffect(() => {
    // Another search from outside (a link, "Clear"); what this box asked for comes back later.
    if (value === asked.current) return;
    search.cancel();
    asked.current = value;
    setTyped(value);
  }, [value, search]);
  return (
    <TextField
      type="search"
      label={inHead ? "" : label}
      placeholder={inHead ? label : ""}
      slotProps={{ htmlInput: { "aria-label": label } }}
      value={typed}
      onChange={(event) => {
        setTyped(event.target.value);
        search(event.target.value);
      }}
      sx={{ width }}
    />
  );
}
