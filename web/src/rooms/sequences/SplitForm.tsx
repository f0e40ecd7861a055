import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Stack from "@mui/material/Stack";
import { LimitedField } from "../../parts/LimitedField";
import { type Schemas } from "../../api/client";
import { ConditionGroup } from "../conditions/ConditionGroup";
import { Part, WayPicker } from "./panelParts";
import { wentWords, type FormOf } from "./stepParts";
import { newBranch } from "./branches";

/** The branches of a split by conditions. */
export function SplitForm(props: FormOf<"split">) {
  const { step, document, catalogue, readOnly, words, count, onChange } = props;
  const set = (id: string, change: Partial<Schemas["SplitBranch"]>) =>
    onChange({
      ...step,
      of: step.of.map((one) => (one.id === id ? { ...one, ...change } : one)),
    });
  return (
    <>
      {step.of.map((one, index) => (
        <Part key={one.id} name={`${index + 1}. ${one.name || "When"}${wentWords(count, one.id)}`}>
          <ConditionGroup
            group={one.when}
            catalogue={catalogue}
            asked={[]}
            readOnly={readOnly}
            onChange={(when) => set(one.id, { when })}
          />
          <Stack spacing={1.5} sx={{ mt: 1 }}>
            <LimitedField
              most={60}
              label="Name (optional)"
              value={one.name}
              disabled={readOnly}
              onChange={(text) => set(one.id, { name: text })}
            />
            <WayPicker
              label="Everybody it fits"
              way={one.way}
              document={document}
              words={words}
              readOnly={readOnly}
              onChange={(way) => set(one.id, { way })}
            />
          </Stack>
          {!readOnly && step.of.length > 1 && (
            <Button
              color="inherit"
              onClick={() =>
                onChange({ ...step, of: step.of.filter((other) => other.id !== one.id) })
              }
            >
              Remove this branch
            </Button>
          )}
        </Part>
      ))}
      {!readOnly && (
        <Button sx={{ mt: 1 }} onClick={() => onChange({ ...step, of: [...step.of, newBranch()] })}>
          Add a branch
        </Button>
      )}
      <Box sx={{ mt: 2 }}>
        <WayPicker
          label={`Otherwise${wentWords(count, "otherwise")}`}
          way={step.otherwise}
          document={document}
          words={words}
          readOnly={readOnly}
          onChange={(otherwise) => onChange({ ...step, otherwise })}
        />
      </Box>
    </>
  );
}
