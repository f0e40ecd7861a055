import { DateBox } from "../../parts/dates/DateBox";
import Button from "@mui/material/Button";
import FormControlLabel from "@mui/material/FormControlLabel";
import MenuItem from "@mui/material/MenuItem";
import Stack from "@mui/material/Stack";
import Switch from "@mui/material/Switch";
import TextField from "@mui/material/TextField";
import { useQuery } from "@tanstack/react-query";
import { sourcesQuery } from "../../api/sources";
import { useSlug } from "../../api/workspace";
import { chosenOf, useFilter } from "./useSubmissions";
import { SearchField } from "../../parts/SearchField";

/** Held or stuck: somebody has to look at it. */
const ATTENTION = "attention";
const STATES: [string, string][] = [
  ["", "any status"],
  ["received", "waiting"],
  ["held", "held"],
  ["routed", "routed"],
  ["stuck", "stuck"],
  [ATTENTION, "needs attention"],
];
const TESTS: [string, string][] = [
  ["", "without tests"],
  ["with", "with tests"],
  ["only", "only tests"],
];

type Name = keyof ReturnType<typeof useFilter>[0];

/** What the log shows: by source, time, state and text; it stands in the address of the screen. */
export function SubmissionFilters() {
  const workspace = useSlug();
  const [filter, setFilter] = useFilter();
  const { data: sources = [] } = useQuery(sourcesQuery(workspace));
  const set = (name: Name, value: string) => void setFilter({ [name]: value || null });
  const select = (name: Name, label: string, options: [string, string][], width: number) => (
    <TextField
      select
      label={label}
      value={filter[name]}
      onChange={(event) => set(name, event.target.value)}
      sx={{ width }}
      slotProps={{ select: { displayEmpty: true }, inputLabel: { shrink: true } }}
    >
      {options.map(([key, text]) => (
        <MenuItem key={key} value={key}>
          {text}
        </MenuItem>
      ))}
    </TextField>
  );
  const day = (name: Name, label: string) => (
    <DateBox
      kind="date"
      label={label}
      value={filter[name]}
      onChange={(chosen) => set(name, chosen)}
      sx={{ width: 180 }}
    />
  );
  return (
    <Stack
      direction="row"
      spacing={1.5}
      useFlexGap
      sx={{ py: 2, flexWrap: "wrap", alignItems: "flex-end" }}
    >
      <SearchField
        label="Address or answer"
        value={filter.text}
        onSearch={(text) => set("text", text)}
        width={200}
      />
      {select(
        "source",
        "Source",
        [["", "all sources"], ...sources.map((one): [string, string] => [one.id, one.name])],
        190,
      )}
      {select("state", "Status", STATES, 150)}
      {day("first_day", "From")}
      {day("last_day", "To")}
      {select("tests", "Tests", TESTS, 140)}
      <FormControlLabel
        label="Needs attention only"
        control={
          <Switch
            size="small"
            checked={filter.state === ATTENTION}
            onChange={(event) => set("state", event.target.checked ? ATTENTION : "")}
          />
        }
      />
      {Object.keys(chosenOf(filter)).length > 0 && (
        <Button onClick={() => void setFilter(null)}>Clear filters</Button>
      )}
    </Stack>
  );
}
