import Typography from "@mui/material/Typography";
import { LimitedField } from "../../parts/LimitedField";
import { NumberField } from "../../parts/NumberField";
import type { Leaf } from "./condition";

type HappenedLeaf = Extract<Leaf, { kind: "happened" }>;

/** What was said with an event: a product, and a number that is summed. */
export function EventDetails({
  leaf,
  readOnly,
  onChange,
}: {
  leaf: HappenedLeaf;
  readOnly: boolean;
  onChange: (leaf: HappenedLeaf) => void;
}) {
  return (
    <>
      <LimitedField
        most={80}
        label="With (optional)"
        placeholder="product"
        value={leaf.detail}
        disabled={readOnly}
        onChange={(text) => onChange({ ...leaf, detail: text })}
        sx={{ width: 130 }}
      />
      {leaf.detail !== "" && (
        <>
          <Typography variant="body2">is</Typography>
          <LimitedField
            most={200}
            label="Value (empty: any)"
            value={leaf.detail_is}
            disabled={readOnly}
            onChange={(text) => onChange({ ...leaf, detail_is: text })}
            sx={{ width: 170 }}
          />
        </>
      )}
      <LimitedField
        most={80}
        label="Total of (optional)"
        placeholder="amount"
        value={leaf.total_of}
        disabled={readOnly}
        onChange={(text) => {
          const total_of = text;
          onChange({
            ...leaf,
            total_of,
            total_at_least: total_of ? (leaf.total_at_least ?? "1") : null,
          });
        }}
        sx={{ width: 140 }}
      />
      {leaf.total_of !== "" && (
        <NumberField
          label="at least"
          value={Number(leaf.total_at_least ?? 0)}
          min={0}
          max={1_000_000_000}
          disabled={readOnly}
          onChange={(total) => onChange({ ...leaf, total_at_least: String(total) })}
          sx={{ width: 110 }}
        />
      )}
    </>
  );
}
