import MenuItem from "@mui/material/MenuItem";
import TextField from "@mui/material/TextField";
import type { SettingsProps } from "./QuestionKind";

/** In how many boxes somebody writes their name. */
export function NameSettings({ question, set }: SettingsProps) {
  return (
    <TextField
      select
      label="Boxes"
      value={question.boxes}
      onChange={(event) => set({ boxes: Number(event.target.value) as 1 | 2 })}
      sx={{ width: 240 }}
    >
      <MenuItem value={1}>one for the whole name</MenuItem>
      <MenuItem value={2}>one each for first and last name</MenuItem>
    </TextField>
  );
}
