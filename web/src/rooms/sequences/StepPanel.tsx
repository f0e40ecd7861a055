import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Checkbox from "@mui/material/Checkbox";
import FormControlLabel from "@mui/material/FormControlLabel";
import Menu from "@mui/material/Menu";
import MenuItem from "@mui/material/MenuItem";
import Stack from "@mui/material/Stack";
import TextField from "@mui/material/TextField";
import Typography from "@mui/material/Typography";
import { useState } from "react";
import { Link } from "react-router";
import { api, take, type Schemas } from "../../api/client";
import { useReload, useSlug } from "../../api/workspace";
import { newId } from "../../parts/newId";
import { NumberField } from "../../parts/NumberField";
import { Picker } from "../../parts/Picker";
import { Problem } from "../../parts/Problem";
import { useComeBack } from "../../parts/useBack";
import { useMaking } from "../../parts/useMaking";
import { ActionForm } from "../sources/ActionForm";
import { ConditionGroup } from "../conditions/ConditionGroup";
import {
  ClockField,
  DurationFields,
  Part,
  WayPicker,
  WeekdayPicker,
  WhenForm,
  type PanelContext,
} from "./panelParts";
import {
  copiedFrom,
  copyOf,
  inserted,
  leftWords,
  movedBy,
  newBranch,
  ON,
  placeOf,
  withoutStep,
  withStep,
  type Selection,
  type Step,
} from "./sequenceDocument";

interface StepPanelProps extends PanelContext {
  step: Step;
  said: Record<string, string>;
  count: Schemas["StepCount"] | undefined;
  onSelect: (selection: Selection | undefined) => void;
  /** Shows who is at the step, or left there. */
  onPeople: ((filter: { step: string; ended?: string }) => void) | undefined;
}

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
          <strong>{count.came.toLocaleString("en-GB")}</strong> came · {count.went_on} went on
          {Object.keys(count.left).length > 0 && ` · left here: ${leftWords(count.left)}`}
          {count.sent > 0 && ` · ${count.sent} sent`}
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
            }}
          >
            Remove
          </Button>
        </Stack>
      )}
    </>
  );
}

/** Copies the step and all below it into another lane, keeping its messages or copying them. */
function CopyMenu({ step, document, edit, catalogue }: StepPanelProps) {
  const workspace = useSlug();
  const reload = useReload();
  const [anchor, setAnchor] = useState<HTMLElement | null>(null);
  const [failed, setFailed] = useState<unknown>();
  const own = placeOf(document, step.id)?.lane.id;
  const others = document.lanes.filter((one) => one.id !== own);
  if (others.length === 0) return null;
  const copyMessages = async (lane: string) => {
    setAnchor(null);
    try {
      setFailed(undefined);
      const place = placeOf(document, step.id);
      const copies = new Map<string, string>();
      const names = new Map(catalogue.messages.map((one) => [one.id, one.name]));
      for (const one of place?.lane.steps.slice(place.index) ?? []) {
        if (one.kind !== "send" || !one.message || copies.has(one.message)) continue;
        const made = await take(
          api.POST("/api/workspaces/{workspace}/things/{kind}/{thing}/copy", {
            params: { path: { workspace, kind: "message", thing: one.message } },
            body: { name: `${names.get(one.message) ?? "Message"} (copy)` },
          }),
        );
        copies.set(one.message, made.id);
      }
      await reload("catalogue", "messages");
      edit((before) => copiedFrom(before, step.id, lane, (id) => copies.get(id) ?? id));
    } catch (caught) {
      setFailed(caught);
    }
  };
  return (
    <>
      <Button aria-haspopup="menu" onClick={(event) => setAnchor(event.currentTarget)}>
        Copy from here to
      </Button>
      <Menu open={anchor !== null} anchorEl={anchor} onClose={() => setAnchor(null)}>
        {others.flatMap((lane) => [
          <MenuItem
            key={lane.id}
            onClick={() => {
              setAnchor(null);
              edit((before) => copiedFrom(before, step.id, lane.id));
            }}
          >
            Lane {lane.name}, with the same messages
          </MenuItem>,
          <MenuItem key={`${lane.id}/new`} onClick={() => void copyMessages(lane.id)}>
            Lane {lane.name}, with copies of the messages
          </MenuItem>,
        ])}
      </Menu>
      <Problem error={failed} />
    </>
  );
}

function StepForm(props: StepPanelProps & { onChange: (step: Step) => void }) {
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
      return <Typography variant="body2">Whoever comes here leaves the sequence.</Typography>;
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

function Check(props: {
  label: string;
  checked: boolean;
  readOnly: boolean;
  onChange: (checked: boolean) => void;
}) {
  return (
    <FormControlLabel
      control={
        <Checkbox
          size="small"
          sx={{ py: 0.5 }}
          checked={props.checked}
          disabled={props.readOnly}
          onChange={(event) => props.onChange(event.target.checked)}
        />
      }
      label={props.label}
    />
  );
}

type Form<Kind extends Step["kind"]> = Omit<StepPanelProps, "step"> & {
  step: Extract<Step, { kind: Kind }>;
  onChange: (step: Step) => void;
};

function SendForm({ step, catalogue, readOnly, onChange }: Form<"send">) {
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

function SplitForm(props: Form<"split">) {
  const { step, document, catalogue, readOnly, said, count, onChange } = props;
  const set = (id: string, change: Partial<Schemas["SplitBranch"]>) =>
    onChange({
      ...step,
      of: step.of.map((one) => (one.id === id ? { ...one, ...change } : one)),
    });
  return (
    <>
      {step.of.map((one, index) => (
        <Part key={one.id} name={`${index + 1}. ${one.name || "When"}${counted(count, one.id)}`}>
          <ConditionGroup
            group={one.when}
            catalogue={catalogue}
            asked={[]}
            readOnly={readOnly}
            onChange={(when) => set(one.id, { when })}
          />
          <Stack spacing={1.5} sx={{ mt: 1 }}>
            <TextField
              label="Name (optional)"
              value={one.name}
              disabled={readOnly}
              onChange={(event) => set(one.id, { name: event.target.value.slice(0, 60) })}
            />
            <WayPicker
              label="Whoever it fits"
              way={one.way}
              document={document}
              said={said}
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
          label={`Otherwise${counted(count, "otherwise")}`}
          way={step.otherwise}
          document={document}
          said={said}
          readOnly={readOnly}
          onChange={(otherwise) => onChange({ ...step, otherwise })}
        />
      </Box>
    </>
  );
}

function counted(count: Schemas["StepCount"] | undefined, way: string): string {
  const went = count?.ways[way];
  return went === undefined ? "" : ` · ${went.toLocaleString("en-GB")} went`;
}

function ChanceForm(props: Form<"chance">) {
  const { step, document, readOnly, said, count, onChange } = props;
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
          name={`${one.name || "A way"}: ${total ? Math.round((100 * one.weight) / total) : 0} %${counted(count, one.id)}`}
        >
          <Stack spacing={1.5}>
            <Stack direction="row" spacing={1}>
              <TextField
                label="Name"
                value={one.name}
                disabled={readOnly}
                onChange={(event) => set(one.id, { name: event.target.value.slice(0, 60) })}
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
              said={said}
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
