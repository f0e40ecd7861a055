import Box from "@mui/material/Box";
import MenuItem from "@mui/material/MenuItem";
import TextField from "@mui/material/TextField";
import { ChoicesEditor } from "./ChoicesEditor";
import type { Question } from "../routeDocument";
import type { SettingsProps } from "./QuestionKind";

/** What can be chosen, and how it is laid out. */
export function ChoiceSettings({ question, set }: SettingsProps) {
  return (
    <>
      <Box sx={{ flexBasis: "100%" }}>
        <ChoicesEditor choices={question.choices} onChange={(choices) => set({ choices })} />
      </Box>
      <TextField
        select
        label="Shown as"
        value={question.look}
        onChange={(event) => set({ look: event.target.value as Question["look"] })}
        sx={{ width: 190 }}
      >
        <MenuItem value="list">one below the other</MenuItem>
        <MenuItem value="buttons">buttons in a row</MenuItem>
        {question.type === "choice" && <MenuItem value="drop_down">a drop-down</MenuItem>}
      </TextField>
    </>
  );
}
