import Stack from "@mui/material/Stack";
import Typography from "@mui/material/Typography";
import { ClockField, WeekdayPicker } from "../panelParts";
import type { FormOf, StepKind } from "../stepParts";

function Form(props: FormOf<"wait_time">) {
  const { step, readOnly, onChange } = props;
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
}

/** Waits until a weekday and a time. */
export const waitTimeStep: StepKind<"wait_time"> = {
  words: "Wait until a weekday and time",
  make: (id) => ({ kind: "wait_time", id, weekdays: [2], at: "09:00:00" }),
  Form,
};
