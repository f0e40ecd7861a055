import Button from "@mui/material/Button";
import Stack from "@mui/material/Stack";
import Typography from "@mui/material/Typography";
import { NumberField } from "../../parts/NumberField";
import { Picker } from "../../parts/Picker";
import { QuestionPicker } from "../sources/QuestionPicker";
import { OPS, type Comparison, type Leaf } from "./condition";
import type { ConditionContext } from "./ConditionContext";
import { HappenedForm } from "./HappenedForm";
import { Exactly } from "./Exactly";
import { SmallMultiSelect } from "./SmallMultiSelect";
import { SmallSelect } from "./SmallSelect";
import { ValueBox } from "./ValueBox";
import { FieldTestForm } from "./FieldTestForm";

interface ConditionLineProps extends ConditionContext {
  leaf: Leaf;
  onChange: (leaf: Leaf) => void;
  onRemove: () => void;
}

const STATES = ["none", "pending", "subscribed", "unsubscribed", "bounced", "complained"] as const;
const ANSWER_OPS: Comparison[] = [
  "is",
  "is_not",
  "one_of",
  "contains",
  "not_contains",
  "begins",
  "empty",
  "not_empty",
];

/** One comparison: its subject, how it is compared, and with what. */
export function ConditionLine(props: ConditionLineProps) {
  const { readOnly, onRemove } = props;
  return (
    <Stack
      direction="row"
      spacing={1}
      useFlexGap
      sx={{ flexWrap: "wrap", alignItems: "center", pt: 1.25, pb: 0.5 }}
    >
      <Subject {...props} />
      {!readOnly && (
        <Button color="inherit" onClick={onRemove} aria-label="Remove this comparison">
          Remove
        </Button>
      )}
    </Stack>
  );
}

function Subject({ leaf, onChange, catalogue, asked, readOnly }: ConditionLineProps) {
  const picker = (
    label: string,
    options: { id: string; name: string }[],
    value: string,
    set: (id: string) => void,
  ) => (
    <Stack sx={{ width: 210 }}>
      <Picker
        label={label}
        options={options}
        value={value || null}
        disabled={readOnly}
        onChange={(id) => set(id ?? "")}
      />
    </Stack>
  );
  switch (leaf.kind) {
    case "field":
      return (
        <FieldTestForm leaf={leaf} catalogue={catalogue} readOnly={readOnly} onChange={onChange} />
      );
    case "tag":
      return (
        <>
          <SmallSelect
            label="Has or not"
            value={leaf.has ? "has" : "not"}
            options={[
              ["has", "has the tag"],
              ["not", "does not have the tag"],
            ]}
            readOnly={readOnly}
            onChange={(value) => onChange({ ...leaf, has: value === "has" })}
          />
          {picker("Tag", catalogue.tags, leaf.tag, (tag) => onChange({ ...leaf, tag }))}
        </>
      );
    case "membership":
      return (
        <>
          <SmallSelect
            label="Is or is not"
            value={leaf.holds ? "is" : "not"}
            options={[
              ["is", "is"],
              ["not", "is not"],
            ]}
            readOnly={readOnly}
            onChange={(value) => onChange({ ...leaf, holds: value === "is" })}
          />
          <SmallMultiSelect
            label="State on the list"
            values={leaf.states}
            options={STATES.map((one) => [one, one === "none" ? "not known" : one])}
            readOnly={readOnly}
            onChange={(states) => onChange({ ...leaf, states: states as typeof leaf.states })}
          />
          <Typography variant="body2">on</Typography>
          {picker("List", catalogue.lists, leaf.list, (list) => onChange({ ...leaf, list }))}
        </>
      );
    case "answer":
      return (
        <>
          <Stack sx={{ width: 210 }}>
            <QuestionPicker
              label="Answer to"
              asked={asked}
              value={leaf.question}
              disabled={readOnly}
              onChange={(question) => onChange({ ...leaf, question })}
            />
          </Stack>
          <SmallSelect
            label="Compared"
            value={leaf.op}
            options={[...new Set([...ANSWER_OPS, leaf.op])].map((one) => [one, OPS[one]])}
            readOnly={readOnly}
            onChange={(op) => onChange({ ...leaf, op: op as Comparison })}
          />
          <ValueBox
            op={leaf.op}
            value={leaf.value}
            values={leaf.values}
            options={asked
              .find((one) => one.name === leaf.question)
              ?.question?.choices.map((one) => [one.key, one.label])}
            readOnly={readOnly}
            onChange={(change) => onChange({ ...leaf, ...change })}
          />
          <Exactly leaf={leaf} readOnly={readOnly} onChange={onChange} />
        </>
      );
    case "source":
      return (
        <>
          <Typography variant="body2">came from</Typography>
          <SmallMultiSelect
            label="Source"
            values={leaf.sources}
            options={catalogue.sources.map((one) => [one.id, one.name])}
            readOnly={readOnly}
            onChange={(sources) => onChange({ ...leaf, sources })}
          />
        </>
      );
    case "score":
      return (
        <>
          <Typography variant="body2">the score</Typography>
          <SmallSelect
            label="Compared"
            value={leaf.op}
            options={(["at_least", "more", "at_most", "less", "is", "is_not"] as const).map(
              (one) => [one, OPS[one]],
            )}
            readOnly={readOnly}
            onChange={(op) => onChange({ ...leaf, op: op as typeof leaf.op })}
          />
          <NumberField
            label="Score"
            value={leaf.value}
            disabled={readOnly}
            onChange={(value) => onChange({ ...leaf, value })}
            sx={{ width: 100 }}
          />
        </>
      );
    case "happened":
      return (
        <HappenedForm leaf={leaf} catalogue={catalogue} readOnly={readOnly} onChange={onChange} />
      );
    case "run":
      return (
        <>
          <SmallSelect
            label="In the sequence"
            value={leaf.state}
            options={[
              ["under_way", "is currently in"],
              ["ever", "was in"],
              ["never", "was never in"],
            ]}
            readOnly={readOnly}
            onChange={(state) => onChange({ ...leaf, state: state as typeof leaf.state })}
          />
          {picker("Sequence", catalogue.sequences, leaf.sequence, (sequence) =>
            onChange({ ...leaf, sequence }),
          )}
        </>
      );
    case "frozen":
      return (
        <>
          <SmallSelect
            label="Is in it or not"
            value={leaf.within ? "in" : "not"}
            options={[
              ["in", "is in the group"],
              ["not", "is not in the group"],
            ]}
            readOnly={readOnly}
            onChange={(value) => onChange({ ...leaf, within: value === "in" })}
          />
          {picker("Frozen group", catalogue.groups, leaf.group, (group) =>
            onChange({ ...leaf, group }),
          )}
        </>
      );
  }
}
