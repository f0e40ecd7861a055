import MenuItem from "@mui/material/MenuItem";
import Stack from "@mui/material/Stack";
import TextField from "@mui/material/TextField";
import { Link } from "react-router";
import { useSlug } from "../../api/workspace";
import { Picker } from "../../parts/Picker";
import { useComeBack } from "../../parts/useBack";
import { useMaking } from "../../parts/useMaking";
import { Check, type FormOf } from "./stepParts";

/** An email: which message, and when it goes. */
export function SendForm({ step, catalogue, readOnly, onChange }: FormOf<"send">) {
  const workspace = useSlug();
  const making = useMaking();
  const comeBack = useComeBack();
  const goes = step.at_once ? "at_once" : step.any_hour ? "any_hour" : "hours";
  return (
    <Stack spacing={1.5}>
      <Picker
        label="Message"
        options={catalogue.messages}
        value={step.message ?? null}
        disabled={readOnly}
        onChange={(message) => onChange({ ...step, message })}
        onMake={making.message}
        makes="message"
      />
      {step.message && (
        <Link to={`/w/${workspace}/messages/${step.message}`} state={comeBack}>
          Edit message
        </Link>
      )}
      <TextField
        select
        label="Goes"
        value={goes}
        disabled={readOnly}
        onChange={(event) =>
          onChange({
            ...step,
            at_once: event.target.value === "at_once",
            any_hour: event.target.value === "any_hour",
          })
        }
        helperText={
          step.at_once
            ? "They asked for it: it goes whether they are on the list or not, at any time"
            : "To subscribers of the list, and not too soon after another email"
        }
      >
        <MenuItem value="at_once">At once: requested</MenuItem>
        <MenuItem value="hours">In the sending times</MenuItem>
        <MenuItem value="any_hour">At any hour</MenuItem>
      </TextField>
      <Check
        label="Continue with the next step while this email is held"
        checked={step.if_held === "go_on"}
        readOnly={readOnly}
        onChange={(on) => onChange({ ...step, if_held: on ? "go_on" : "wait" })}
      />
    </Stack>
  );
}
