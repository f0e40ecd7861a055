import Button from "@mui/material/Button";
import MenuItem from "@mui/material/MenuItem";
import Stack from "@mui/material/Stack";
import TextField from "@mui/material/TextField";
import { lazy, Suspense } from "react";
import { useAttempt } from "../../api/useAttempt";
import { Loading } from "../../parts/Loading";
import { Picker } from "../../parts/Picker";
import { Problem } from "../../parts/Problem";
import { useMaking } from "../../parts/useMaking";
import { focusOnId } from "../../parts/focus/focus";
import { newMessageName } from "./newMessageName";
import { emailAdded, placeOf, withMessage, type Step } from "./sequenceDocument";
import { Check, type FormOf } from "./stepParts";

/** The id of what an email is written in. */
const EMAIL = "email";
/** The editor is loaded once an email is written. */
const WriteInStep = lazy(() => import("../messages/WriteInStep"));

/** An email: which message, what it says, and when it goes. */
export function SendForm(props: FormOf<"send">) {
  const { step, document, own, catalogue, readOnly, selection, edit, onSelect, onChange } = props;
  const making = useMaking();
  const { attempt, failed, busy } = useAttempt();
  const wide = selection.wide ?? false;
  const emails = document.lanes.flatMap((lane) => lane.steps.filter((one) => one.kind === "send"));
  const at = emails.findIndex((one) => one.id === step.id);
  const open = (id: string) => onSelect({ kind: "step", id, wide });
  const near = (label: string, to: Step | undefined) =>
    to && <Button onClick={() => open(to.id)}>{label}</Button>;
  const goes = step.at_once ? "at_once" : step.any_hour ? "any_hour" : "hours";
  const newMessage = () => {
    const sequence = catalogue.sequences.find((one) => one.id === own)?.name ?? "Email";
    return making.message(newMessageName(sequence, catalogue.messages));
  };
  const write = () =>
    attempt(async () => {
      const message = await newMessage();
      edit((before) => withMessage(before, step.id, message));
      focusOnId(EMAIL, "into");
    });
  const place = placeOf(document, step.id);
  const last = place?.lane.steps.slice(place.index + 1).every((one) => one.kind !== "send");
  const addNext = () =>
    attempt(async () => {
      const message = await newMessage();
      const [next, change] = emailAdded(step, message);
      edit(change);
      open(next);
      focusOnId(EMAIL, "into");
    });
  const between = (
    <>
      {near("Previous email", emails[at - 1])}
      {last && !readOnly ? (
        <Button disabled={busy} onClick={() => void addNext()}>
          Add the next email
        </Button>
      ) : (
        near("Next email", emails[at + 1])
      )}
    </>
  );
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
      {!step.message && !readOnly && (
        <div>
          <Button variant="outlined" disabled={busy} onClick={() => void write()}>
            Write a new email
          </Button>
        </div>
      )}
      <Problem error={failed} />
      {step.message && catalogue.messages.some((one) => one.id === step.message) && (
        <Suspense fallback={<Loading within="a sheet" />}>
          <div id={EMAIL}>
            <WriteInStep
              key={step.message}
              message={step.message}
              near={between}
              wide={wide}
              onWide={(next) => onSelect({ kind: "step", id: step.id, wide: next })}
            />
          </div>
        </Suspense>
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
        label="Continue even if this email is held back"
        checked={step.if_held === "go_on"}
        readOnly={readOnly}
        onChange={(on) => onChange({ ...step, if_held: on ? "go_on" : "wait" })}
      />
    </Stack>
  );
}
