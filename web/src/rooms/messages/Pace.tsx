import { DateBox } from "../../parts/dates/DateBox";
import Stack from "@mui/material/Stack";
import TextField from "@mui/material/TextField";
import type { Schemas } from "../../api/client";
import { useMayChange } from "../../api/workspace";
import { FormActions } from "../../drafts/FormActions";
import { Band } from "../../parts/Band";
import { useMailForm, useMailSettings } from "./useMailSettings";

/** How many emails go out within an hour. */
export function Pace() {
  const { data } = useMailSettings();
  return data ? <PaceForm stored={data} /> : null;
}

function PaceForm({ stored }: { stored: Schemas["MailSettingsOut"] }) {
  const readOnly = !useMayChange();
  const draft = useMailForm("pace", stored);
  const { form, set } = draft;
  const limit = (key: "hourly_emails" | "hourly_per_domain", label: string) => (
    <TextField
      label={label}
      placeholder="no limit"
      value={form[key] ?? ""}
      disabled={readOnly}
      error={Boolean(draft.wrong(key))}
      helperText={draft.wrong(key)}
      onChange={(event) => {
        const digits = event.target.value.replace(/\D/g, "").slice(0, 8);
        set({ [key]: digits ? Number(digits) : null });
      }}
      slotProps={{ inputLabel: { shrink: true }, htmlInput: { inputMode: "numeric" } }}
      sx={{ width: 150 }}
    />
  );
  return (
    <Band name="Sending limits" note="requested emails never wait">
      <Stack
        direction="row"
        spacing={1.5}
        useFlexGap
        sx={{ flexWrap: "wrap", alignItems: "start", pb: 1 }}
      >
        {limit("hourly_emails", "Emails per hour")}
        {limit("hourly_per_domain", "Per receiving domain")}
        <DateBox
          kind="date"
          label="New sender since"
          value={form.warms_up_from ?? ""}
          disabled={readOnly}
          onChange={(day) => set({ warms_up_from: day || null })}
          helperText="200 an hour on the first day, twice as many each day, for two weeks"
          sx={{ width: 250 }}
        />
      </Stack>
      {!readOnly && <FormActions draft={draft} label="Save the limits" />}
    </Band>
  );
}
