import Checkbox from "@mui/material/Checkbox";
import FormControlLabel from "@mui/material/FormControlLabel";
import Typography from "@mui/material/Typography";
import { Band } from "../../parts/Band";
import type { MailSettings } from "./useMailSettings";

interface CountingBandProps {
  settings: MailSettings;
  readOnly: boolean;
  onChange: (change: Partial<MailSettings>) => void;
}

/** What is counted of emails, where a message does not say otherwise. */
export function CountingBand({ settings, readOnly, onChange }: CountingBandProps) {
  const check = (key: "counts_clicks" | "counts_opens", label: string) => (
    <FormControlLabel
      sx={{ display: "flex" }}
      control={
        <Checkbox
          size="small"
          checked={settings[key]}
          disabled={readOnly}
          onChange={(event) => onChange({ [key]: event.target.checked })}
        />
      }
      label={label}
    />
  );
  return (
    <Band name="Opens and clicks">
      <Typography variant="body2" color="textSecondary" sx={{ mb: 0.5, maxWidth: 560 }}>
        In some countries people have to agree first. Anybody can switch it off for themselves on
        their own page.
      </Typography>
      {check("counts_clicks", "Count which links people click")}
      {check("counts_opens", "Estimate opens (by a one-pixel picture)")}
    </Band>
  );
}
