import Box from "@mui/material/Box";
import Stack from "@mui/material/Stack";
import Typography from "@mui/material/Typography";
import { NO_HANDOVER } from "./mapping";
import type { Schemas } from "../../api/client";
import { LimitedField } from "../../parts/LimitedField";
import { useCatalogue } from "../../api/workspace";
import { AddMenu } from "../../parts/AddMenu";
import { LineTools } from "../../parts/LineTools";
import { Picker } from "../../parts/Picker";
import { TagPicker } from "../../parts/TagPicker";
import { useMaking } from "../../parts/useMaking";
import { Check } from "./Check";
import { HandOverForm } from "./HandOverForm";
import { SampleContext } from "./SampleContext";

type Kind = Schemas["HeardKindOut"];
type Rule = Schemas["HeardRule"];

/** One kind of event: what it is called here, what it says, and what it changes. */
export function EventRule({
  kind,
  rule,
  readOnly,
  onChange,
}: {
  kind: Kind;
  rule: Rule;
  readOnly: boolean;
  onChange: (rule: Rule) => void;
}) {
  const { data: catalogue } = useCatalogue();
  const making = useMaking();
  const sample = new Map(kind.sample.map((one) => [one.name, one.text]));
  const names = [...kind.data, ...kind.fields];
  const asked = ["email", "date", ...names].map((one) => ({ name: one, label: one }));
  return (
    <Box role="group" aria-label={kind.label}>
      <Stack direction="row" spacing={2} useFlexGap sx={{ flexWrap: "wrap", alignItems: "center" }}>
        <Check
          label={kind.label}
          checked={rule.take}
          readOnly={readOnly}
          onChange={(checked) => onChange({ ...rule, take: checked })}
        />
        {rule.take && (
          <LimitedField
            most={60}
            label="Name in Yalla"
            placeholder={kind.event}
            slotProps={{ inputLabel: { shrink: true } }}
            value={rule.event}
            disabled={readOnly}
            onChange={(event) => onChange({ ...rule, event })}
            sx={{ width: 180 }}
          />
        )}
        {rule.take && catalogue && (
          <Stack sx={{ width: 240 }}>
            <TagPicker
              label="Tags it adds"
              tags={catalogue.tags}
              value={rule.tags}
              disabled={readOnly}
              onChange={(tags) => onChange({ ...rule, tags })}
              onMake={making.tag}
              suggests=""
            />
          </Stack>
        )}
      </Stack>
      {rule.take && names.length > 0 && (
        <Typography variant="body2" color="textSecondary" sx={{ py: 0.5 }}>
          It says{" "}
          {names.map((one) => `${one}${sample.get(one) ? ` (${sample.get(one)})` : ""}`).join(", ")}
          ; conditions can ask for {kind.data.length ? kind.data.join(", ") : "the event"}.
        </Typography>
      )}
      {rule.take &&
        catalogue &&
        kind.fields.map((key) => (
          <Stack key={key} direction="row" spacing={1} sx={{ alignItems: "center", pt: 0.5 }}>
            <Typography variant="body2" sx={{ width: 120 }}>
              {key}
            </Typography>
            <Stack sx={{ width: 240 }}>
              <Picker
                label={`${key} fills the field`}
                options={catalogue.fields
                  .filter((one) => one.type !== "email")
                  .map((one) => ({ id: one.id, name: one.label }))}
                value={rule.fields[key] ?? null}
                disabled={readOnly}
                onChange={(field) => {
                  const rest: [string, string][] = Object.entries(rule.fields).filter(
                    ([other]) => other !== key,
                  );
                  const fields: [string, string][] =
                    field === null ? rest : [...rest, [key, field]];
                  onChange({ ...rule, fields: Object.fromEntries(fields) });
                }}
              />
            </Stack>
            <Typography variant="body2" color="textSecondary">
              {sample.get(key)}
            </Typography>
          </Stack>
        ))}
      {rule.take && catalogue && (
        <SampleContext value={{ answers: kind.sample, values: {}, source: null, sequence: null }}>
          {rule.rows.map((row, index) => (
            <Box key={index} sx={{ borderTop: 1, borderColor: "divider", mt: 1, pt: 0.5 }}>
              <Stack direction="row" sx={{ alignItems: "center" }}>
                <Typography variant="body2">Each event is also handed to a service</Typography>
                {!readOnly && (
                  <LineTools
                    name={`handoff ${index + 1}`}
                    onRemove={() =>
                      onChange({ ...rule, rows: rule.rows.filter((_, at) => at !== index) })
                    }
                  />
                )}
              </Stack>
              <HandOverForm
                handover={row}
                catalogue={catalogue}
                asked={asked}
                readOnly={readOnly}
                onChange={(next) =>
                  onChange({
                    ...rule,
                    rows: rule.rows.map((one, at) => (at === index ? next : one)),
                  })
                }
              />
            </Box>
          ))}
          {!readOnly && (
            <AddMenu
              label="Also hand it to a service …"
              options={catalogue.services
                .filter((one) => one.hands_over)
                .map((one): [string, string] => [one.id, one.name])}
              onAdd={(service) =>
                onChange({ ...rule, rows: [...rule.rows, { ...NO_HANDOVER, service }] })
              }
            />
          )}
        </SampleContext>
      )}
    </Box>
  );
}
