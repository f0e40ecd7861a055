import Checkbox from "@mui/material/Checkbox";
import FormControlLabel from "@mui/material/FormControlLabel";
import Stack from "@mui/material/Stack";
import { Band, BandRow } from "../../parts/Band";
import { NumberField } from "../../parts/NumberField";
import type { WorkspaceSettings } from "./useSettingsForm";

interface AttentionBandProps {
  form: WorkspaceSettings;
  mayChange: boolean;
  set: (change: Partial<WorkspaceSettings>) => void;
}

/** From which numbers something needs attention. */
export function AttentionBand({ form, mayChange, set }: AttentionBandProps) {
  return (
    <Band name="Attention" note="for the lists, and for emails to members">
      <BandRow>
        <Stack spacing={2} sx={{ pt: 1 }}>
          <NumberField
            label="Needs attention after this many failures"
            value={form.attention_after}
            min={1}
            max={100_000}
            disabled={!mayChange}
            onChange={(attention_after) => set({ attention_after })}
            helperText="Counted for each source, sequence, service and message"
            sx={{ maxWidth: 460 }}
          />
          <NumberField
            label="Tell members when this many enter or leave a sequence in a day"
            value={form.many_in_a_day}
            min={1}
            max={10_000_000}
            disabled={!mayChange}
            onChange={(many_in_a_day) => set({ many_in_a_day })}
            sx={{ maxWidth: 460 }}
          />
          <FormControlLabel
            control={
              <Checkbox
                checked={form.approves_broadcasts}
                disabled={!mayChange}
                onChange={(_, approves_broadcasts) => set({ approves_broadcasts })}
              />
            }
            label="A second member approves each broadcast before it goes"
          />
        </Stack>
      </BandRow>
    </Band>
  );
}
