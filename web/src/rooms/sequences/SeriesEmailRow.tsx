import Box from "@mui/material/Box";
import Checkbox from "@mui/material/Checkbox";
import Stack from "@mui/material/Stack";
import Typography from "@mui/material/Typography";
import type { Schemas } from "../../api/client";
import { SubjectLine } from "../messages/SubjectLine";
import { NumberField } from "../../parts/NumberField";

type Email = Schemas["SeriesEmail"];

/** An email as it was read: whether it is taken, its subject, and when it goes. */
export function SeriesEmailRow(props: {
  email: Email;
  taken: boolean;
  onTake: () => void;
  onChange: (changed: Partial<Email>) => void;
}) {
  const { email, taken, onTake, onChange } = props;
  const text = new DOMParser().parseFromString(email.html, "text/html").body.textContent;
  return (
    <Stack
      direction="row"
      spacing={1.5}
      sx={{ alignItems: "center", py: 0.75, borderBottom: 1, borderColor: "divider" }}
    >
      <Checkbox
        checked={taken}
        onChange={onTake}
        slotProps={{ input: { "aria-label": `Add “${email.name}”` } }}
      />
      <Box sx={{ width: 84, flexShrink: 0 }}>
        <NumberField
          label="Day"
          value={email.day}
          min={0}
          max={3650}
          disabled={!taken}
          onChange={(day) => onChange({ day })}
        />
      </Box>
      <Box sx={{ minWidth: 0, flex: 1 }}>
        <Typography variant="body2" noWrap sx={{ fontWeight: 600 }}>
          {email.subject ? <SubjectLine subject={email.subject} /> : email.name}
        </Typography>
        <Typography variant="caption" component="div" noWrap color="textSecondary">
          {text.trim() || "Nothing is written yet."}
        </Typography>
      </Box>
    </Stack>
  );
}
