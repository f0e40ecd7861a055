import { DateBox } from "../../parts/dates/DateBox";
import Button from "@mui/material/Button";
import Checkbox from "@mui/material/Checkbox";
import FormControlLabel from "@mui/material/FormControlLabel";
import MenuItem from "@mui/material/MenuItem";
import Stack from "@mui/material/Stack";
import TextField from "@mui/material/TextField";
import Typography from "@mui/material/Typography";
import { useState } from "react";
import type { Schemas } from "../../api/client";
import { Band, BandRow } from "../../parts/Band";

type Wanted = Schemas["ReplayIn"];

interface ReplayChoiceProps {
  source: Schemas["SourceOut"];
  /** Submissions that were chosen elsewhere, or those of a snag. */
  given: Pick<Wanted, "submissions" | "snag">;
  onLook: (wanted: Wanted) => void;
  onForget: () => void;
}

const MAY: [Wanted["allowed"][number], string][] = [
  ["removals", "Take away what today’s route does not give"],
  ["sequences", "Start and end sequences, each once only for a person"],
  ["messages", "Send messages and tell members, but never a message that was sent before"],
  ["services", "Hand people to services, each once only for a submission"],
];

/** Which submissions are decided again, and what may happen by it. */
export function ReplayChoice({ source, given, onLook, onForget }: ReplayChoiceProps) {
  const [state, setState] = useState("");
  const [since, setSince] = useState("");
  const [until, setUntil] = useState("");
  const [revision, setRevision] = useState("");
  const [allowed, setAllowed] = useState<Wanted["allowed"]>(["removals"]);
  const fixed = Boolean(given.snag) || given.submissions.length > 0;
  const ask = () =>
    onLook({
      ...given,
      text: "",
      allowed,
      ...(!fixed && state && { state: state as "routed" | "stuck" }),
      ...(!fixed && since && { first_day: since }),
      ...(!fixed && until && { last_day: until }),
      ...(!fixed && revision && { since_revision: Number(revision) }),
    });
  const day = (label: string, value: string, set: (value: string) => void) => (
    <DateBox kind="date" label={label} value={value} onChange={set} sx={{ width: 180 }} />
  );
  return (
    <>
      <Band name="Which" note="submissions">
        <BandRow>
          {fixed ? (
            <Stack direction="row" spacing={2} sx={{ alignItems: "baseline" }}>
              <Typography>
                {given.snag
                  ? "Those that the snag stopped."
                  : `The ${given.submissions.length === 1 ? "one" : given.submissions.length} that you chose.`}
              </Typography>
              <Button onClick={onForget}>Choose others</Button>
            </Stack>
          ) : (
            <Stack direction="row" spacing={1.5} useFlexGap sx={{ py: 1, flexWrap: "wrap" }}>
              <TextField
                select
                label="Where they are"
                value={state}
                onChange={(event) => setState(event.target.value)}
                sx={{ width: 160 }}
                slotProps={{ select: { displayEmpty: true }, inputLabel: { shrink: true } }}
              >
                <MenuItem value="">routed or stuck</MenuItem>
                <MenuItem value="routed">routed</MenuItem>
                <MenuItem value="stuck">stuck</MenuItem>
              </TextField>
              <TextField
                select
                label="Decided since revision"
                value={revision}
                onChange={(event) => setRevision(event.target.value)}
                sx={{ width: 190 }}
                slotProps={{ select: { displayEmpty: true }, inputLabel: { shrink: true } }}
              >
                <MenuItem value="">any</MenuItem>
                {source.revisions.map((one) => (
                  <MenuItem key={one.number} value={String(one.number)}>
                    {one.number}
                    {one.note && `: ${one.note}`}
                  </MenuItem>
                ))}
              </TextField>
              {day("Received from", since, setSince)}
              {day("Received to", until, setUntil)}
            </Stack>
          )}
        </BandRow>
      </Band>
      <Band name="What may happen" note="facts in any case">
        <BandRow>
          <Stack>
            {MAY.map(([key, label]) => (
              <FormControlLabel
                key={key}
                control={
                  <Checkbox
                    size="small"
                    checked={allowed.includes(key)}
                    onChange={(event) =>
                      setAllowed(
                        event.target.checked
                          ? [...allowed, key]
                          : allowed.filter((one) => one !== key),
                      )
                    }
                  />
                }
                label={label}
              />
            ))}
          </Stack>
          <Typography variant="body2" color="textSecondary" sx={{ py: 0.5 }}>
            Tags, fields, the score and lists are set right in any case. Whoever has left a list is
            not brought back, and what somebody changed since stays.
          </Typography>
          <Button variant="contained" onClick={ask} sx={{ my: 0.5 }}>
            Preview changes
          </Button>
        </BandRow>
      </Band>
    </>
  );
}
