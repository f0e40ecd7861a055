import { counted } from "../../parts/formats";
import MenuItem from "@mui/material/MenuItem";
import Stack from "@mui/material/Stack";
import TextField from "@mui/material/TextField";
import Typography from "@mui/material/Typography";
import type { Schemas } from "../../api/client";
import { ON, type SequenceDocument, type Way } from "./sequenceDocument";

interface RemovedProps {
  removed: Schemas["RemovedStep"][];
  document: SequenceDocument;
  words: Record<string, string>;
  ways: Record<string, Way>;
  onChange: (ways: Record<string, Way>) => void;
}

/** The steps that the draft no longer has: how many people stand there, and what becomes of them. */
export function Removed({ removed, document, words, ways, onChange }: RemovedProps) {
  if (removed.length === 0) return null;
  return (
    <Stack spacing={1.5} sx={{ my: 1.5 }}>
      <Typography variant="body2" sx={{ fontWeight: 600 }}>
        {counted(removed.length, "step is", "steps are")} removed
      </Typography>
      {removed.map((one) => {
        const way = ways[one.step] ?? ON;
        return (
          <TextField
            key={one.step}
            select
            label={`${one.sentence}: ${counted(one.people, "person stands", "people stand")} here`}
            value={way.to === "lane" ? `${way.lane ?? ""}/${way.step ?? ""}` : way.to}
            onChange={(event) => {
              const [lane = "", step = ""] = event.target.value.split("/");
              onChange({
                ...ways,
                [one.step]: step
                  ? { to: "lane", lane, step }
                  : { to: lane as "on" | "end", lane: null, step: null },
              });
            }}
          >
            <MenuItem value="on">When they are due, continue at: {one.next}</MenuItem>
            <MenuItem value="end">Leave the sequence</MenuItem>
            {document.lanes.flatMap((lane) =>
              lane.steps.map((step) => (
                <MenuItem key={step.id} value={`${lane.id}/${step.id}`}>
                  Continue now at {lane.name}: {words[step.id] ?? step.kind}
                </MenuItem>
              )),
            )}
          </TextField>
        );
      })}
    </Stack>
  );
}
