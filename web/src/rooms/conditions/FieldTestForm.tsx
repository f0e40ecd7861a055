import Stack from "@mui/material/Stack";
import type { Schemas } from "../../api/client";
import { Picker } from "../../parts/Picker";
import { comparisonsOf, OPS, type Comparison, type Leaf } from "./condition";
import { Exactly } from "./Exactly";
import { SmallSelect } from "./SmallSelect";
import { ValueBox } from "./ValueBox";

type FieldLeaf = Extract<Leaf, { kind: "field" }>;

/** The types whose values are compared as texts. */
const TEXTS = new Set<string>(["text", "long_text", "email", "phone", "url"]);

interface FieldTestFormProps {
  leaf: FieldLeaf;
  catalogue: Schemas["CatalogueOut"];
  readOnly: boolean;
  onChange: (leaf: FieldLeaf) => void;
}

/** A field compared with a value of its own type. */
export function FieldTestForm({ leaf, catalogue, readOnly, onChange }: FieldTestFormProps) {
  const field = catalogue.fields.find((one) => one.id === leaf.field);
  const ops = comparisonsOf(field?.type ?? "text");
  const choose = (id: string | null) => {
    const next = catalogue.fields.find((one) => one.id === id);
    const fitting = comparisonsOf(next?.type ?? "text");
    const op = fitting.includes(leaf.op) ? leaf.op : (fitting[0] ?? "is");
    onChange({ ...leaf, field: id ?? "", op, value: "", values: [] });
  };
  return (
    <>
      <Stack sx={{ width: 190 }}>
        <Picker
          label="Field"
          options={catalogue.fields.map((one) => ({ id: one.id, name: one.label }))}
          value={leaf.field || null}
          disabled={readOnly}
          onChange={choose}
        />
      </Stack>
      <SmallSelect
        label="Compared"
        value={leaf.op}
        options={[...new Set([...ops, leaf.op])].map((one) => [one, OPS[one]])}
        readOnly={readOnly}
        onChange={(op) => onChange({ ...leaf, op: op as Comparison })}
      />
      <ValueBox
        op={leaf.op}
        value={leaf.value}
        values={leaf.values}
        type={field?.type ?? "text"}
        options={
          field?.choices.length ? field.choices.map((one) => [one.key, one.label]) : undefined
        }
        readOnly={readOnly}
        onChange={(change) => onChange({ ...leaf, ...change })}
      />
      {(field === undefined || TEXTS.has(field.type)) && (
        <Exactly leaf={leaf} readOnly={readOnly} onChange={onChange} />
      )}
    </>
  );
}
