import MenuItem from "@mui/material/MenuItem";
import Stack from "@mui/material/Stack";
import TextField from "@mui/material/TextField";
import type { Schemas } from "../../api/client";
import { useWorkspace } from "../../api/workspace";
import { Band, BandRow } from "../../parts/Band";
import { DateBox } from "../../parts/dates/DateBox";
import { FindingsAt } from "../../parts/Findings";
import { NumberField } from "../../parts/NumberField";
import { OneOpen } from "./OneOpen";

type When = Schemas["BroadcastDocument"]["when"];

interface WhenBandProps {
  broadcast: Schemas["BroadcastOut"];
  when: When;
  readOnly: boolean;
  onChange: (when: When) => void;
}

/** When it goes, and how fast. */
export function WhenBand({ broadcast, when, readOnly, onChange }: WhenBandProps) {
  const { data: workspace } = useWorkspace();
  const set = (change: Partial<When>) => onChange({ ...when, ...change });
  const kind = when.kind;
  const limit = (name: "per_hour" | "per_domain", label: string) => (
    <NumberField
      label={label}
      value={when[name] ?? 0}
      min={0}
      max={1_000_000}
      disabled={readOnly}
      onChange={(most) => set({ [name]: most || null })}
      helperText="0: no limit of its own"
      sx={{ flex: 1 }}
    />
  );
  return (
    <Band name="When" id="when">
      <BandRow>
        <OneOpen sentence={broadcast.when} starts={false} readOnly={readOnly}>
          <Stack spacing={2} sx={{ pt: 1, maxWidth: 560 }}>
            <TextField
              select
              label="Send it"
              value={kind}
              disabled={readOnly}
              onChange={(event) => set({ kind: event.target.value as When["kind"] })}
            >
              <MenuItem value="at_once">Right away</MenuItem>
              <MenuItem value="at">At one time for everybody</MenuItem>
              <MenuItem value="local">At each person's local time</MenuItem>
            </TextField>
            {kind !== "at_once" && (
              <DateBox
                kind="moment"
                label="Day and time"
                value={when.at?.slice(0, 16) ?? ""}
                disabled={readOnly}
                onChange={(at) => set({ at: at || null })}
                helperText={
                  kind === "at" ? `In the zone of the workspace, ${workspace?.time_zone}` : ""
                }
              />
            )}
            {kind === "local" && (
              <TextField
                select
                label="People whose time zone is not known"
                value={when.without_zone}
                disabled={readOnly}
                onChange={(event) =>
                  set({ without_zone: event.target.value as When["without_zone"] })
                }
              >
                <MenuItem value="workspace">Get it by the workspace's time zone</MenuItem>
                <MenuItem value="leave_out">Do not get it</MenuItem>
              </TextField>
            )}
            <TextField
              select
              label="People for whom it is too early, or a quiet date"
              value={when.outside}
              disabled={readOnly}
              onChange={(event) => set({ outside: event.target.value as When["outside"] })}
              helperText="By the sending hours, quiet dates and the gap between two emails"
            >
              <MenuItem value="move">Get it later</MenuItem>
              <MenuItem value="leave_out">Do not get it</MenuItem>
            </TextField>
            <Stack direction={{ xs: "column", sm: "row" }} spacing={2}>
              {limit("per_hour", "At most per hour")}
              {limit("per_domain", "At most per hour to one domain")}
            </Stack>
            <NumberField
              label="Minutes to call it back"
              value={when.delay_minutes}
              min={0}
              max={1440}
              disabled={readOnly}
              onChange={(delay_minutes) => set({ delay_minutes })}
              helperText="After it is sent, and before the first email goes"
            />
          </Stack>
        </OneOpen>
        <FindingsAt findings={broadcast.findings} place="when" />
      </BandRow>
    </Band>
  );
}
