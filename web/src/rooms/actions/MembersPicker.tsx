import Autocomplete from "@mui/material/Autocomplete";
import TextField from "@mui/material/TextField";
import type { Schemas } from "../../api/client";

interface MembersPickerProps {
  members: Schemas["CatalogueOut"]["members"];
  value: string[];
  readOnly: boolean;
  onChange: (members: string[]) => void;
}

/** Chooses members of the workspace. */
export function MembersPicker({ members, value, readOnly, onChange }: MembersPickerProps) {
  const name = (id: string) => members.find((one) => one.id === id)?.name ?? "somebody who left";
  return (
    <Autocomplete
      multiple
      options={members.map((one) => one.id)}
      getOptionLabel={name}
      value={value}
      disabled={readOnly}
      onChange={(_, chosen) => onChange(chosen)}
      slotProps={{ chip: { size: "small", variant: "outlined" } }}
      sx={{ width: 320 }}
      renderInput={(params) => <TextField {...params} label="Members" />}
    />
  );
}
