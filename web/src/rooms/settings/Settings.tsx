import Autocomplete from "@mui/material/Autocomplete";
import Box from "@mui/material/Box";
import Checkbox from "@mui/material/Checkbox";
import FormControlLabel from "@mui/material/FormControlLabel";
import Stack from "@mui/material/Stack";
import TextField from "@mui/material/TextField";
import Typography from "@mui/material/Typography";
import { useQuery } from "@tanstack/react-query";
import { Link } from "react-router";
import { timeZonesQuery } from "../../api/settings";
import type { Schemas } from "../../api/client";
import { useWorkspace } from "../../api/workspace";
import { FormActions } from "../../drafts/FormActions";
import { Band, BandRow } from "../../parts/Band";
import { Loading } from "../../parts/Loading";
import { NumberField } from "../../parts/NumberField";
import { Sheet } from "../../parts/Sheet";
import { TimesForm } from "../sequences/TimesForm";
import { CountryPicker } from "../../parts/CountryPicker";
import { AttentionBand } from "./AttentionBand";
import { ClockBand } from "./ClockBand";
import { FormatsBand } from "./FormatsBand";
import { ToldOf } from "./ToldOf";
import { useSettingsForm } from "./useSettingsForm";

/** The settings of the workspace. */
export function Settings() {
  const { data, error } = useWorkspace();
  if (!data) return <Loading error={error} />;
  return (
    <Sheet
      title="Settings"
      name="Settings"
      actions={<Link to={`/w/${data.slug}/history`}>History of changes</Link>}
    >
      <SettingsForm key={data.slug} stored={data} />
      <FormatsBand />
      <ToldOf />
      {data.clock_movable && <ClockBand now={data.now} outside={data.outside} />}
    </Sheet>
  );
}

function SettingsForm({ stored }: { stored: Schemas["SettingsOut"] }) {
  const mayChange = stored.role === "owner";
  const draft = useSettingsForm(stored);
  const { form, set, wrong: wrongAt } = draft;
  const zones = useQuery(timeZonesQuery());
  const text = (
    key: "name" | "sender_name" | "sender_address" | "postal_address",
    label: string,
    hint = "",
  ) => (
    <TextField
      label={label}
      value={form[key]}
      onChange={(event) => set({ [key]: event.target.value })}
      helperText={wrongAt(key) ?? hint}
      error={Boolean(wrongAt(key))}
      disabled={!mayChange}
      sx={{ maxWidth: 460, display: "block", mb: 2 }}
    />
  );
  return (
    <form
      onSubmit={(event) => {
        event.preventDefault();
        void draft.save();
      }}
    >
      <Band name="Workspace">
        <BandRow>
          <Stack sx={{ pt: 1 }}>
            {text("name", "Name")}
            <Autocomplete
              options={zones.data ?? [form.time_zone]}
              value={form.time_zone}
              disableClearable
              disabled={!mayChange}
              onChange={(_, time_zone) => set({ time_zone })}
              sx={{ maxWidth: 460, mb: 2 }}
              renderInput={(params) => (
                <TextField
                  {...params}
                  label="Time zone"
                  helperText="Used on the screens, and for people whose time zone is not known"
                />
              )}
            />
            <CountryPicker
              label="Country"
              value={form.country}
              disabled={!mayChange}
              onChange={(country) => set({ country })}
              helperText="The default for phone numbers without a country code"
            />
          </Stack>
        </BandRow>
      </Band>
      <Band name="Sender" note={form.sender_address ? "" : "required to send email"}>
        <BandRow>
          <Stack sx={{ pt: 1 }}>
            {text("sender_name", "From name")}
            {text(
              "sender_address",
              "From address",
              "An address that your mail server may send as, and that you read",
            )}
            {text(
              "postal_address",
              "Postal address",
              "Shown below every email; many laws ask for it",
            )}
          </Stack>
        </BandRow>
      </Band>
      <Band name="Sending" note="marketing, where sequences say nothing else">
        <BandRow id="sending_times">
          <Stack spacing={2} sx={{ pt: 1 }}>
            <TimesForm
              times={form.sending_times}
              readOnly={!mayChange}
              onChange={(sending_times) => set({ sending_times })}
            />
            <NumberField
              label="Days between two marketing emails to one person (0: none)"
              value={form.email_gap_days}
              min={0}
              max={60}
              disabled={!mayChange}
              onChange={(email_gap_days) => set({ email_gap_days })}
              helperText="Over all sequences: an email that comes too soon moves. What somebody asked for goes at once."
              sx={{ maxWidth: 460 }}
            />
            {wrongAt("sending_times") && (
              <Typography variant="caption" color="error">
                {wrongAt("sending_times")}
              </Typography>
            )}
          </Stack>
        </BandRow>
      </Band>
      <Band name="Privacy">
        <BandRow>
          <FormControlLabel
            control={
              <Checkbox
                size="small"
                checked={form.keeps_ip}
                disabled={!mayChange}
                onChange={(event) => set({ keeps_ip: event.target.checked })}
              />
            }
            label="Keep the IP address of submissions as evidence of consent"
          />
          <FormControlLabel
            control={
              <Checkbox
                size="small"
                checked={form.asks_zone}
                disabled={!mayChange}
                onChange={(event) => set({ asks_zone: event.target.checked })}
              />
            }
            label="Let forms ask the visitor’s browser for its time zone, so that emails arrive at the right hour"
          />
          <TextField
            type="number"
            label="Keep answers, context and bodies for (days)"
            value={form.retention_days ?? ""}
            onChange={(event) =>
              set({ retention_days: event.target.value ? Number(event.target.value) : null })
            }
            error={Boolean(wrongAt("retention_days"))}
            helperText={
              wrongAt("retention_days") ??
              "Leave empty to keep them indefinitely. Subscribers and their evidence of consent are always kept; the answers of people in a sequence until they leave it or finish."
            }
            disabled={!mayChange}
            sx={{ maxWidth: 460, display: "block", mt: 1 }}
          />
        </BandRow>
      </Band>
      <AttentionBand form={form} mayChange={mayChange} set={set} />
      {mayChange && (
        <Box sx={{ py: 2, pl: { md: 17 } }}>
          <FormActions draft={draft} label="Save settings" />
        </Box>
      )}
    </form>
  );
}
