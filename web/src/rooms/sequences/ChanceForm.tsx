import Button from "@mui/material/Button";
import Stack from "@mui/material/Stack";
import Typography from "@mui/material/Typography";
import { LimitedField } from "../../parts/LimitedField";
import { type Schemas } from "../../api/client";
import { newId } from "../../parts/newId";
import { NumberField } from "../../parts/NumberField";
import { Part, WayPicker } from "./panelParts";
import { wentWords, type FormOf } from "./stepParts";
import { ON } from "./sequenceDocument";

/** The ways of a split by chance. */
export function ChanceForm(props: FormOf<"chance">) {
  const { step, document, readOnly, words, count, onChange } = props;
  const total = step.of.reduce((sum, one) => sum + one.weight, 0);
  const set = (id: string, change: Partial<Schemas["ChanceBranch"]>) =>
    onChange({
      ...step,
      of: step.of.map((one) => (one.id === id ? { ...one, ...change } : one)),
    });
  return (
    <>
      <Typography variant="body2" color="textSecondary">
        The same person always goes the same way.
      </Typography>
      {step.of.map((one) => (
        <Part
          key={one.id}
          name={`${one.name || "A way"}: ${total ? Math.round((100 * one.weight) / total) : 0}%${wentWords(count, one.id)}`}
        >
          <Stack spacing={1.5}>
            <Stack direction="row" spacing={1}>
              <LimitedField
                most={60}
                label="Name"
                value={one.name}
                disabled={readOnly}
                onChange={(text) => set(one.id, { name: text })}
              />
              <NumberField
                label="Weight"
                value={one.weight}
                min={0}
                max={1000}
                disabled={readOnly}
                onChange={(weight) => set(one.id, { weight })}
                sx={{ width: 100 }}
              />
            </Stack>
            <WayPicker
              label="Goes"
              way={one.way}
              document={document}
              words={words}
              readOnly={readOnly}
              onChange={(way) => set(one.id, { way })}
            />
          </Stack>
          {!readOnly && step.of.length > 2 && (
            <Button
              color="inherit"
              onClick={() =>
                onChange({ ...step, of: step.of.filter((other) => other.id !== one.id) })
              }
            >
              Remove this way
            </Button>
          )}
        </Part>
      ))}
      {!readOnly && (
        <Button
          sx={{ mt: 1 }}
          onClick={() =>
            onChange({
              ...step,
              of: [
                ...step.of,
                {
                  id: newId("b"),
                  name: String.fromCharCode(65 + step.of.length),
                  weight: 1,
                  way: ON,
                },
              ],
            })
          }
        >
          Add a way
        </Button>
      )}
    </>
  );
}
