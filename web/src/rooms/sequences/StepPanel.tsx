import { number } from "../../parts/formats";
import { percent } from "../../parts/share";
import Button from "@mui/material/Button";
import Stack from "@mui/material/Stack";
import Typography from "@mui/material/Typography";
import { focusOnId } from "../../parts/focus/focus";
import { CopyMenu } from "./CopyMenu";
import { StepForm } from "./StepForm";
import { type StepPanelProps } from "./stepParts";
import {
  copyOf,
  inserted,
  movedBy,
  placeOf,
  type Step,
  withStep,
  withoutStep,
} from "./sequenceDocument";
import { leftWords } from "./words";

/** One step, open for editing. */
export function StepPanel(props: StepPanelProps) {
  const { step, document, edit, readOnly, count, onSelect, onPeople } = props;
  const place = placeOf(document, step.id);
  if (!place) return null;
  const change = (next: Step) => edit((before) => withStep(before, next));
  return (
    <>
      <StepForm {...props} onChange={change} />
      {count && (
        <Typography variant="body2" sx={{ mt: 2 }}>
          <strong>{number(count.came)}</strong> entered · {count.went_on} continued
          {Object.keys(count.left).length > 0 && ` · left here: ${leftWords(count.left)}`}
          {count.sent > 0 &&
            ` · ${number(count.sent)} sent, about ${percent(count.opened, count.sent)} opened, ${percent(count.clicked, count.sent)} clicked`}
          {count.came_back > 0 && ` · ${count.came_back} came back`}
          {count.held > 0 && ` · ${count.held} held`}
          {count.failed > 0 && ` · ${count.failed} failed`}
          {count.waiting > 0 && onPeople && (
            <>
              {" · "}
              <Button sx={{ p: 0 }} onClick={() => onPeople({ step: step.id, ended: "" })}>
                {count.waiting} here now
              </Button>
            </>
          )}
        </Typography>
      )}
      {!readOnly && (
        <Stack direction="row" useFlexGap spacing={0.5} sx={{ mt: 2, flexWrap: "wrap" }}>
          {place.index > 0 && (
            <Button onClick={() => edit((before) => movedBy(before, step.id, -1))}>Move up</Button>
          )}
          {place.index < place.lane.steps.length - 1 && (
            <Button onClick={() => edit((before) => movedBy(before, step.id, 1))}>Move down</Button>
          )}
          <Button
            onClick={() => {
              const copy = copyOf(step);
              edit((before) => inserted(before, place.lane.id, copy, place.index + 1));
              onSelect({ kind: "step", id: copy.id });
            }}
          >
            Duplicate
          </Button>
          <CopyMenu {...props} />
          <Button
            color="error"
            onClick={() => {
              edit((before) => withoutStep(before, step.id));
              onSelect(undefined);
              const { steps } = place.lane;
              const near = steps[place.index + 1] ?? steps[place.index - 1];
              focusOnId(near?.id ?? place.lane.id);
            }}
          >
            Remove
          </Button>
        </Stack>
      )}
    </>
  );
}
