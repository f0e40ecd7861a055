import Box from "@mui/material/Box";
import Checkbox from "@mui/material/Checkbox";
import FormControlLabel from "@mui/material/FormControlLabel";
import MenuItem from "@mui/material/MenuItem";
import Stack from "@mui/material/Stack";
import TextField from "@mui/material/TextField";
import Typography from "@mui/material/Typography";
import { Link } from "react-router";
import type { Schemas } from "../../api/client";
import { useSlug } from "../../api/workspace";
import { LineTools } from "../../parts/LineTools";
import { NumberField } from "../../parts/NumberField";
import { Picker } from "../../parts/Picker";
import { useComeBack } from "../../parts/useBack";
import { useMaking } from "../../parts/useMaking";
import type { Duration, Step } from "./sequenceDocument";

interface StepLineProps {
  step: Step;
  index: number;
  count: number;
  messages: Schemas["NamedOut"][];
  readOnly: boolean;
  onSteps: (change: (steps: Step[]) => Step[]) => void;
}

/** One step: a message to send, or a time to wait. */
export function StepLine({ step, index, count, messages, readOnly, onSteps }: StepLineProps) {
  const change = (next: Step) =>
    onSteps((steps) => steps.map((one) => (one.id === step.id ? next : one)));
  const move = (by: -1 | 1) =>
    onSteps((steps) => {
      const rest = steps.filter((one) => one.id !== step.id);
      return [...rest.slice(0, index + by), step, ...rest.slice(index + by)];
    });
  return (
    <Stack direction="row" spacing={1.5} sx={{ alignItems: "center" }}>
      <Typography variant="h3" component="h3" sx={{ width: 44, flexShrink: 0 }}>
        {step.kind === "send" ? "Send" : "Wait"}
      </Typography>
      <Box sx={{ flex: 1, minWidth: 0, pt: 0.75 }}>
        {step.kind === "send" ? (
          <SendFields step={step} messages={messages} readOnly={readOnly} onChange={change} />
        ) : (
          <WaitFields
            duration={step.duration}
            readOnly={readOnly}
            onChange={(duration) => change({ ...step, duration })}
          />
        )}
      </Box>
      {!readOnly && (
        <LineTools
          name={`step ${index + 1}`}
          onUp={index > 0 ? () => move(-1) : undefined}
          onDown={index < count - 1 ? () => move(1) : undefined}
          onRemove={() => onSteps((steps) => steps.filter((one) => one.id !== step.id))}
        />
      )}
    </Stack>
  );
}

interface SendFieldsProps {
  step: Schemas["SendStep"];
  messages: Schemas["NamedOut"][];
  readOnly: boolean;
  onChange: (step: Step) => void;
}

function SendFields({ step, messages, readOnly, onChange }: SendFieldsProps) {
  const workspace = useSlug();
  const making = useMaking();
  const comeBack = useComeBack();
  return (
    <>
      <Stack direction="row" spacing={2} sx={{ alignItems: "center" }}>
        <Box sx={{ flex: 1, minWidth: 0 }}>
          <Picker
            label="Message"
            options={messages}
            value={step.message ?? null}
            disabled={readOnly}
            onChange={(message) => onChange({ ...step, kind: "send", message })}
            onMake={making.message}
            makes="message"
          />
        </Box>
        {step.message && (
          <Link to={`/w/${workspace}/messages/${step.message}`} state={comeBack}>
            Edit
          </Link>
        )}
      </Stack>
      <Stack sx={{ pt: 0.5 }}>
        <FormControlLabel
          control={
            <Checkbox
              size="small"
              sx={{ py: 0.5 }}
              checked={step.at_once}
              disabled={readOnly}
              onChange={(event) =>
                onChange({ ...step, kind: "send", at_once: event.target.checked })
              }
            />
          }
          label="They asked for it: send at once, on the list or not"
        />
        <FormControlLabel
          control={
            <Checkbox
              size="small"
              sx={{ py: 0.5 }}
              checked={step.if_held === "go_on"}
              disabled={readOnly}
              onChange={(event) =>
                onChange({
                  ...step,
                  kind: "send",
                  if_held: event.target.checked ? "go_on" : "wait",
                })
              }
            />
          }
          label="Go on with the next step while this email is held"
        />
      </Stack>
    </>
  );
}

interface WaitFieldsProps {
  duration: Duration;
  readOnly: boolean;
  onChange: (duration: Duration) => void;
}

function WaitFields({ duration, readOnly, onChange }: WaitFieldsProps) {
  const exact = duration.unit === "minutes" || duration.unit === "hours";
  return (
    <Stack direction="row" spacing={1} sx={{ alignItems: "center" }}>
      <NumberField
        label="For"
        value={duration.amount}
        min={0}
        max={3650}
        disabled={readOnly}
        onChange={(amount) => onChange({ ...duration, amount })}
        sx={{ width: 90 }}
      />
      <TextField
        select
        label="Unit"
        value={duration.unit}
        disabled={readOnly}
        onChange={(event) =>
          onChange({ ...duration, unit: event.target.value as Duration["unit"] })
        }
        sx={{ width: 120 }}
      >
        {(["minutes", "hours", "days", "weeks"] as const).map((unit) => (
          <MenuItem key={unit} value={unit}>
            {unit}
          </MenuItem>
        ))}
      </TextField>
      <Typography variant="caption" color="textSecondary">
        {exact ? "to the minute" : "same clock time for the person"}
      </Typography>
    </Stack>
  );
}
