import Button from "@mui/material/Button";
import MenuItem from "@mui/material/MenuItem";
import Stack from "@mui/material/Stack";
import TextField from "@mui/material/TextField";
import Typography from "@mui/material/Typography";
import { useState } from "react";
import type { Schemas } from "../../api/client";
import { LimitedField } from "../../parts/LimitedField";
import { Band } from "../../parts/Band";
import { LanguageSelect } from "../../parts/LanguageSelect";
import type { MessageDocument } from "./letter/blocks";

interface MessageSettingsProps {
  document: MessageDocument;
  settings: Schemas["MailSettingsOut"];
  /** The plain text as it is made by itself. */
  onChange: (change: Partial<MessageDocument>) => void;
  readOnly: boolean;
}

const UTM: [Schemas["Parameter"]["name"], string][] = [
  ["utm_source", "Source"],
  ["utm_medium", "Medium"],
  ["utm_campaign", "Campaign"],
  ["utm_content", "Content"],
  ["utm_term", "Term"],
];

/** What is set besides the letter: its language, what is counted, parameters of links, plain text. */
export function MessageSettings(props: MessageSettingsProps) {
  const { document, settings, onChange, readOnly } = props;
  const [byHand, setByHand] = useState(document.text !== "");
  const [parameters, setParameters] = useState(document.utm.length > 0);
  const counted = (key: "opens" | "clicks", label: string, workspace: boolean) => (
    <TextField
      select
      label={label}
      value={document[key] === null || document[key] === undefined ? "" : String(document[key])}
      disabled={readOnly}
      onChange={(event) =>
        onChange({ [key]: event.target.value === "" ? null : event.target.value === "true" })
      }
      slotProps={{ select: { displayEmpty: true }, inputLabel: { shrink: true } }}
    >
      <MenuItem value="">Default: {workspace ? "yes" : "no"}</MenuItem>
      <MenuItem value="true">Yes</MenuItem>
      <MenuItem value="false">No</MenuItem>
    </TextField>
  );
  return (
    <Band name="Settings" id="plain-text">
      <Stack spacing={1.5} sx={{ maxWidth: 560 }}>
        <Stack direction={{ xs: "column", sm: "row" }} spacing={1.5}>
          <LanguageSelect
            label="Language"
            inherits="As the list"
            value={document.language}
            disabled={readOnly}
            onChange={(language) => onChange({ language })}
          />
          {counted("clicks", "Count clicks", settings.counts_clicks)}
          {counted("opens", "Estimate opens", settings.counts_opens)}
        </Stack>
        {parameters ? (
          <Stack direction="row" spacing={1} useFlexGap sx={{ flexWrap: "wrap" }}>
            {UTM.map(([name, label]) => (
              <LimitedField
                most={200}
                key={name}
                label={`${label} (${name})`}
                value={document.utm.find((one) => one.name === name)?.value ?? ""}
                disabled={readOnly}
                onChange={(text) => {
                  const others = document.utm.filter((one) => one.name !== name);
                  const value = text;
                  onChange({ utm: value ? [...others, { name, value }] : others });
                }}
                sx={{ width: 180 }}
              />
            ))}
          </Stack>
        ) : (
          !readOnly && (
            <div>
              <Button onClick={() => setParameters(true)}>Add parameters to links (utm)</Button>
            </div>
          )
        )}
        {byHand ? (
          <>
            <TextField
              multiline
              minRows={4}
              maxRows={14}
              label="Plain text, written by hand"
              value={document.text}
              disabled={readOnly}
              onChange={(event) => onChange({ text: event.target.value })}
              helperText="For programs that show no HTML. Empty: it is made of the letter."
            />
            <Typography variant="caption" color="textSecondary">
              It does not follow the letter: change both.
            </Typography>
          </>
        ) : (
          !readOnly && (
            <div>
              <Button onClick={() => setByHand(true)}>Write the plain text by hand</Button>
            </div>
          )
        )}
      </Stack>
    </Band>
  );
}
