import Stack from "@mui/material/Stack";
import TextField from "@mui/material/TextField";
import type { Schemas } from "../../api/client";
import { useWorkspace } from "../../api/workspace";
import { NumberField } from "../../parts/NumberField";
import { Picker } from "../../parts/Picker";
import { dayFrom, NO_DETAILS, type Leaf } from "./condition";
import { EventDetails } from "./EventDetails";
import { SmallSelect } from "./SmallSelect";

type HappenedLeaf = Extract<Leaf, { kind: "happened" }>;

interface HappenedFormProps {
  leaf: HappenedLeaf;
  catalogue: Schemas["CatalogueOut"];
  readOnly: boolean;
  onChange: (leaf: HappenedLeaf) => void;
}

type What = HappenedLeaf["what"];
const WHAT: Record<What, string> = {
  submitted: "submitted",
  confirmed: "confirmed",
  sent: "was sent",
  opened: "opened (an estimate)",
  clicked: "clicked a link",
  event: "event",
};
const ABOUT: Record<Exclude<What, "event">, string> = {
  submitted: "Through (empty: any source)",
  confirmed: "List (empty: any)",
  sent: "Message (empty: any)",
  opened: "Message (empty: any)",
  clicked: "In the message (empty: any)",
};
type When = "ever" | "within" | "after" | "before" | "between";
const WHEN: Record<When, string> = {
  ever: "at any time",
  within: "in the last",
  after: "after",
  before: "before",
  between: "between",
};

/** Something that happened: what, about what, how many times, and when. */
export function HappenedForm({ leaf, catalogue, readOnly, onChange }: HappenedFormProps) {
  const never = leaf.at_most === 0;
  const about = {
    submitted: catalogue.sources,
    confirmed: catalogue.lists,
    sent: catalogue.messages,
    opened: catalogue.messages,
    clicked: catalogue.messages,
  };
  return (
    <>
      <SmallSelect
        label="What happened"
        value={leaf.what}
        options={Object.entries(WHAT)}
        readOnly={readOnly}
        onChange={(what) =>
          onChange({ ...leaf, what: what as What, about: "", link: "", ...NO_DETAILS })
        }
      />
      {leaf.what === "event" ? (
        <TextField
          label="Its name (empty: any)"
          value={leaf.about}
          disabled={readOnly}
          onChange={(event) => onChange({ ...leaf, about: event.target.value })}
          sx={{ width: 190 }}
        />
      ) : (
        <Stack sx={{ width: 190 }}>
          <Picker
            label={ABOUT[leaf.what]}
            options={about[leaf.what]}
            value={leaf.about || null}
            disabled={readOnly}
            onChange={(chosen) => onChange({ ...leaf, about: chosen ?? "" })}
          />
        </Stack>
      )}
      {leaf.what === "event" && (
        <EventDetails leaf={leaf} readOnly={readOnly} onChange={onChange} />
      )}
      {leaf.what === "clicked" && (
        <TextField
          label="Its address contains"
          placeholder="/shop"
          value={leaf.link}
          disabled={readOnly}
          onChange={(event) => onChange({ ...leaf, link: event.target.value.slice(0, 500) })}
          sx={{ width: 170 }}
        />
      )}
      <SmallSelect
        label="How often"
        value={never ? "never" : "times"}
        options={[
          ["times", "at least"],
          ["never", "never"],
        ]}
        readOnly={readOnly}
        onChange={(value) =>
          onChange(
            value === "never"
              ? { ...leaf, at_least: 0, at_most: 0 }
              : { ...leaf, at_least: 1, at_most: null },
          )
        }
      />
      {!never && (
        <NumberField
          label="Times"
          value={leaf.at_least}
          min={0}
          disabled={readOnly}
          onChange={(at_least) => onChange({ ...leaf, at_least })}
          sx={{ width: 80 }}
        />
      )}
      <WhenForm leaf={leaf} readOnly={readOnly} onChange={onChange} />
    </>
  );
}

function whenOf(leaf: HappenedLeaf): When {
  if (leaf.within_hours) return "within";
  if (leaf.after) return leaf.before ? "between" : "after";
  return leaf.before ? "before" : "ever";
}

/** When it happened; both dates are left out, as in "is before" of a date. */
function WhenForm({ leaf, readOnly, onChange }: Omit<HappenedFormProps, "catalogue">) {
  const when = whenOf(leaf);
  const { data: workspace } = useWorkspace();
  const day = (days: number) => dayFrom(workspace?.now, workspace?.time_zone, days);
  const choose = (next: When) =>
    onChange({
      ...leaf,
      within_hours: next === "within" ? 7 * 24 : null,
      after: next === "after" || next === "between" ? (leaf.after ?? day(-30)) : null,
      before: next === "before" || next === "between" ? (leaf.before ?? day(0)) : null,
    });
  const date = (key: "after" | "before", label: string) => (
    <TextField
      type="date"
      label={label}
      value={leaf[key] ?? ""}
      disabled={readOnly}
      onChange={(event) => {
        // While a date is typed it may be none yet.
        if (event.target.value) onChange({ ...leaf, [key]: event.target.value });
      }}
      slotProps={{ inputLabel: { shrink: true } }}
      sx={{ width: 150 }}
    />
  );
  return (
    <>
      <SmallSelect
        label="When"
        value={when}
        options={Object.entries(WHEN)}
        readOnly={readOnly}
        onChange={(next) => choose(next as When)}
      />
      {when === "within" && (
        <NumberField
          label="Days"
          value={Math.max(1, Math.round((leaf.within_hours ?? 0) / 24))}
          min={1}
          disabled={readOnly}
          onChange={(days) => onChange({ ...leaf, within_hours: days * 24 })}
          sx={{ width: 80 }}
        />
      )}
      {(when === "after" || when === "between") && date("after", "The day")}
      {(when === "before" || when === "between") &&
        date("before", when === "between" ? "And the day" : "The day")}
    </>
  );
}
