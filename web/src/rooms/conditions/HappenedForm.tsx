import Stack from "@mui/material/Stack";
import TextField from "@mui/material/TextField";
import Typography from "@mui/material/Typography";
import type { Schemas } from "../../api/client";
import { Picker } from "../../parts/Picker";
import type { Leaf } from "./condition";
import { SmallSelect } from "./SmallSelect";

type HappenedLeaf = Extract<Leaf, { kind: "happened" }>;

interface HappenedFormProps {
  leaf: HappenedLeaf;
  catalogue: Schemas["CatalogueOut"];
  readOnly: boolean;
  onChange: (leaf: HappenedLeaf) => void;
}

/** Something that happened: what, about what, how many times, within how many days. */
export function HappenedForm({ leaf, catalogue, readOnly, onChange }: HappenedFormProps) {
  const never = leaf.at_most === 0;
  const days = leaf.within_hours ? Math.round(leaf.within_hours / 24) : "";
  return (
    <>
      <SmallSelect
        label="What happened"
        value={leaf.what}
        options={[
          ["submitted", "came in"],
          ["sent", "was sent"],
          ["event", "event"],
        ]}
        readOnly={readOnly}
        onChange={(what) => onChange({ ...leaf, what: what as HappenedLeaf["what"], about: "" })}
      />
      {leaf.what === "event" ? (
        <TextField
          label="Its name (empty: any)"
          value={leaf.about}
          disabled={readOnly}
          onChange={(event) => onChange({ ...leaf, about: event.target.value })}
          sx={{ width: 190 }}
        />
      ) : (
        <Stack sx={{ width: 190 }}>
          <Picker
            label={leaf.what === "submitted" ? "By (empty: any source)" : "Message (empty: any)"}
            options={leaf.what === "submitted" ? catalogue.sources : catalogue.messages}
            value={leaf.about || null}
            disabled={readOnly}
            onChange={(about) => onChange({ ...leaf, about: about ?? "" })}
          />
        </Stack>
      )}
      <SmallSelect
        label="How often"
        value={never ? "never" : "times"}
        options={[
          ["times", "at least"],
          ["never", "never"],
        ]}
        readOnly={readOnly}
        onChange={(value) =>
          onChange(
            value === "never"
              ? { ...leaf, at_least: 0, at_most: 0 }
              : { ...leaf, at_least: 1, at_most: null },
          )
        }
      />
      {!never && (
        <TextField
          type="number"
          label="Times"
          value={leaf.at_least}
          disabled={readOnly}
          onChange={(event) =>
            onChange({ ...leaf, at_least: Math.max(0, Number(event.target.value) || 0) })
          }
          sx={{ width: 80 }}
        />
      )}
      <Typography variant="body2">in the last</Typography>
      <TextField
        type="number"
        label="Days (empty: ever)"
        value={days}
        disabled={readOnly}
        onChange={(event) => {
          const found = Number(event.target.value);
          onChange({ ...leaf, within_hours: found > 0 ? found * 24 : null });
        }}
        sx={{ width: 150 }}
      />
    </>
  );
}
