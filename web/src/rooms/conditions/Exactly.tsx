import Checkbox from "@mui/material/Checkbox";
import FormControlLabel from "@mui/material/FormControlLabel";
import type { Leaf } from "./condition";

type TextLeaf = Extract<Leaf, { kind: "field" | "answer" }>;

interface ExactlyProps<Kind extends TextLeaf> {
  leaf: Kind;
  readOnly: boolean;
  onChange: (leaf: Kind) => void;
}

/** Whether capitals and accents count; offered where a text is compared with another. */
export function Exactly<Kind extends TextLeaf>({ leaf, readOnly, onChange }: ExactlyProps<Kind>) {
  if (leaf.op === "empty" || leaf.op === "not_empty") return null;
  return (
    <FormControlLabel
      label="match case and accents"
      control={
        <Checkbox
          size="small"
          checked={leaf.exact}
          disabled={readOnly}
          onChange={(event) => onChange({ ...leaf, exact: event.target.checked })}
        />
      }
    />
  );
}
