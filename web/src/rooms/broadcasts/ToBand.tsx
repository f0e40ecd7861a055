import Autocomplete from "@mui/material/Autocomplete";
import Box from "@mui/material/Box";
import Checkbox from "@mui/material/Checkbox";
import FormControlLabel from "@mui/material/FormControlLabel";
import Stack from "@mui/material/Stack";
import TextField from "@mui/material/TextField";
import Typography from "@mui/material/Typography";
import { useQuery } from "@tanstack/react-query";
import { audiencesQuery } from "../../api/audiences";
import type { Schemas } from "../../api/client";
import { useSlug } from "../../api/workspace";
import { Band, BandRow } from "../../parts/Band";
import { FindingsAt } from "../../parts/Findings";
import { NumberField } from "../../parts/NumberField";
import { Picker } from "../../parts/Picker";
import { useMaking } from "../../parts/useMaking";
import { ConditionGroup } from "../conditions/ConditionGroup";
import { OneOpen } from "./OneOpen";

type To = Schemas["BroadcastDocument"]["to"];

interface ToBandProps {
  broadcast: Schemas["BroadcastOut"];
  to: To;
  catalogue: Schemas["CatalogueOut"];
  readOnly: boolean;
  onChange: (to: To) => void;
}

/** Who is meant, and who is left out. */
export function ToBand({ broadcast, to, catalogue, readOnly, onChange }: ToBandProps) {
  const making = useMaking();
  const { data: audiences } = useQuery(audiencesQuery(useSlug()));
  const options = (audiences ?? []).map(({ id, name }) => ({ id, name }));
  const set = (change: Partial<To>) => onChange({ ...to, ...change });
  return (
    <Band name="To" id="to">
      <BandRow>
        <OneOpen sentence={broadcast.to} starts={to.list === null} readOnly={readOnly}>
          <Stack spacing={2} sx={{ pt: 1, maxWidth: 560 }}>
            <Picker
              label="List"
              options={catalogue.lists}
              value={to.list ?? null}
              disabled={readOnly}
              onChange={(list) => set({ list })}
              onMake={making.list}
              makes="list"
            />
            <AudiencesPicker
              label="Only these audiences"
              none="Everybody on the list"
              options={options}
              value={to.audiences}
              onChange={(chosen) => set({ audiences: chosen })}
            />
            <AudiencesPicker
              label="Except these audiences"
              none="Nobody is left out"
              options={options}
              value={to.less_audiences}
              onChange={(chosen) => set({ less_audiences: chosen })}
            />
          </Stack>
          <Typography sx={{ mt: 2, fontWeight: 600, fontSize: 13 }}>Only people who fit</Typography>
          <ConditionGroup
            group={to.only}
            catalogue={catalogue}
            asked={[]}
            readOnly={readOnly}
            onChange={(only) => set({ only })}
          />
          <Typography sx={{ mt: 2, fontWeight: 600, fontSize: 13 }}>
            Except people who fit
          </Typography>
          <ConditionGroup
            group={to.less}
            catalogue={catalogue}
            asked={[]}
            readOnly={readOnly}
            onChange={(less) => set({ less })}
          />
          <Box sx={{ mt: 2, maxWidth: 560 }}>
            <NumberField
              label="Except people emailed in the last days"
              value={to.less_recent_days ?? 0}
              min={0}
              max={365}
              disabled={readOnly}
              onChange={(days) => set({ less_recent_days: days || null })}
              helperText="0: no limit"
              sx={{ maxWidth: 320 }}
            />
            <FormControlLabel
              sx={{ mt: 1 }}
              control={
                <Checkbox
                  checked={to.less_busy}
                  disabled={readOnly}
                  onChange={(_, less_busy) => set({ less_busy })}
                />
              }
              label="Leave out people in sequences that allow no broadcasts"
            />
          </Box>
        </OneOpen>
        <FindingsAt findings={broadcast.findings} place="to" />
      </BandRow>
    </Band>
  );
}

interface Audience {
  id: string;
  name: string;
}

interface AudiencesPickerProps {
  label: string;
  /** What an empty choice means. */
  none: string;
  options: Audience[];
  value: string[];
  onChange: (ids: string[]) => void;
}

function AudiencesPicker({ label, none, options, value, onChange }: AudiencesPickerProps) {
  const chosen = value.map(
    (id) => options.find((one) => one.id === id) ?? { id, name: "an audience that is gone" },
  );
  return (
    <Autocomplete
      multiple
      options={options}
      value={chosen}
      getOptionLabel={(one) => one.name}
      getOptionKey={(one) => one.id}
      isOptionEqualToValue={(a, b) => a.id === b.id}
      onChange={(_, rows) => onChange(rows.map((one) => one.id))}
      noOptionsText="There is no audience yet. Save one from People."
      renderInput={(params) => (
        <TextField {...params} label={label} placeholder={value.length === 0 ? none : ""} />
      )}
    />
  );
}
