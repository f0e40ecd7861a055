import Stack from "@mui/material/Stack";
import Typography from "@mui/material/Typography";
import { NumberField } from "../../parts/NumberField";
import { Picker } from "../../parts/Picker";
import { ActionForm } from "../actions/ActionForm";
import { ClockField, DurationFields, WayPicker, WeekdayPicker, WhenForm } from "./panelParts";
import { SendForm } from "./SendForm";
import { SplitForm } from "./SplitForm";
import { ChanceForm } from "./ChanceForm";
import { Check, type StepPanelProps } from "./stepParts";
import { type Step } from "./sequenceDocument";

/** The form of a step, by its kind. */
export function StepForm(props: StepPanelProps & { onChange: (step: Step) => void }) {
  const { step, document, catalogue, readOnly, said, onChange } = props;
  const dates = catalogue.fields
    .filter((one) => one.type === "date")
    .map((one) => ({ id: one.id, name: one.label }));
  switch (step.kind) {
    case "send":
      return <SendForm {...props} step={step} />;
    case "wait":
      return (
        <DurationFields
          label="Wait for"
          duration={step.duration}
          readOnly={readOnly}
          onChange={(duration) => onChange({ ...step, duration })}
        />
      );
    case "wait_time":
      return (
        <Stack spacing={1.5}>
          <WeekdayPicker
            label="On one of these days"
            value={step.weekdays}
            readOnly={readOnly}
            onChange={(weekdays) => onChange({ ...step, weekdays })}
          />
          <ClockField
            label="At, in the person’s time zone"
            value={step.at}
            readOnly={readOnly}
            onChange={(at) => at && onChange({ ...step, at })}
          />
          <Typography variant="caption" color="textSecondary">
            With no day chosen, any day counts.
          </Typography>
        </Stack>
      );
    case "wait_date":
      return (
        <Stack spacing={1.5}>
          <Picker
            label="Date field"
            options={dates}
            value={step.field ?? null}
            disabled={readOnly}
            onChange={(field) => onChange({ ...step, field })}
          />
          <NumberField
            label="Days after it (negative: before)"
            value={step.days}
            min={-3650}
            max={3650}
            disabled={readOnly}
            onChange={(days) => onChange({ ...step, days })}
          />
          <ClockField
            label="At, in the person’s time zone"
            value={step.at}
            readOnly={readOnly}
            onChange={(at) => at && onChange({ ...step, at })}
          />
          <Check
            label="Every year (the next return of the date)"
            checked={step.yearly}
            readOnly={readOnly}
            onChange={(yearly) => onChange({ ...step, yearly })}
          />
          <WayPicker
            label="Without a date, or when it has passed"
            way={step.otherwise}
            document={document}
            said={said}
            readOnly={readOnly}
            onChange={(otherwise) => onChange({ ...step, otherwise })}
          />
        </Stack>
      );
    case "wait_condition":
      return (
        <>
          <WhenForm
            name="Until this holds"
            none=""
            when={step.when}
            required
            context={props}
            onChange={(when) => when && onChange({ ...step, when })}
          />
          <Stack spacing={1.5} sx={{ mt: 1.5 }}>
            <DurationFields
              label="At most"
              duration={step.at_most}
              readOnly={readOnly}
              onChange={(at_most) => onChange({ ...step, at_most })}
            />
            <WayPicker
              label="Once it holds"
              way={step.held}
              document={document}
              said={said}
              readOnly={readOnly}
              onChange={(held) => onChange({ ...step, held })}
            />
            <WayPicker
              label="If it does not hold in time"
              way={step.otherwise}
              document={document}
              said={said}
              readOnly={readOnly}
              onChange={(otherwise) => onChange({ ...step, otherwise })}
            />
          </Stack>
        </>
      );
    case "split":
      return <SplitForm {...props} step={step} />;
    case "chance":
      return <ChanceForm {...props} step={step} />;
    case "stop":
      return (
        <Typography variant="body2">People who reach this step leave the sequence.</Typography>
      );
    case "act":
      return (
        <ActionForm
          action={step.action}
          catalogue={catalogue}
          questions={[]}
          asked={[]}
          suggests=""
          readOnly={readOnly}
          onChange={(action) => action.kind !== "send_now" && onChange({ ...step, action })}
        />
      );
  }
}
