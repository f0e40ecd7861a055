import { DateBox } from "../../parts/dates/DateBox";
import Stack from "@mui/material/Stack";
import TextField from "@mui/material/TextField";
import { useState } from "react";
import type { Schemas } from "../../api/client";
import { LimitedField } from "../../parts/LimitedField";
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
type Often = "times" | "at_most" | "between_times" | "never";
const OFTEN: Record<Often, string> = {
  times: "at least",
  at_most: "at most",
  between_times: "between",
  never: "never",
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
  const often = oftenOf(leaf);
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
        <LimitedField
          most={500}
          label="Its address contains"
          placeholder="/shop"
          value={leaf.link}
          disabled={readOnly}
          onChange={(text) => onChange({ ...leaf, link: text })}
          sx={{ width: 170 }}
        />
      )}
      <SmallSelect
        label="How often"
        value={often}
        options={Object.entries(OFTEN)}
        readOnly={readOnly}
        onChange={(value) => onChange({ ...leaf, ...TIMES[value as Often] })}
      />
      {(often === "times" || often === "between_times") && (
        <NumberField
          label="Times"
          value={leaf.at_least}
          min={0}
          disabled={readOnly}
          onChange={(at_least) => onChange({ ...leaf, at_least })}
          sx={{ width: 80 }}
        />
      )}
      {(often === "at_most" || often === "between_times") && (
        <NumberField
          label={often === "at_most" ? "Times" : "And times"}
          value={leaf.at_most ?? 0}
          min={1}
          disabled={readOnly}
          onChange={(at_most) => onChange({ ...leaf, at_most })}
          sx={{ width: 90 }}
        />
      )}
      <WhenForm leaf={leaf} readOnly={readOnly} onChange={onChange} />
    </>
  );
}

const TIMES: Record<Often, Pick<HappenedLeaf, "at_least" | "at_most">> = {
  times: { at_least: 1, at_most: null },
  at_most: { at_least: 0, at_most: 1 },
  between_times: { at_least: 1, at_most: 3 },
  never: { at_least: 0, at_most: 0 },
};

function oftenOf(leaf: HappenedLeaf): Often {
  if (leaf.at_most === 0 && leaf.at_least === 0) return "never";
  if (typeof leaf.at_most !== "number") return "times";
  return leaf.at_least ? "between_times" : "at_most";
}

function whenOf(leaf: HappenedLeaf): When {
  if (leaf.within_hours) return "within";
  if (leaf.after) return leaf.before ? "between" : "after";
  return leaf.before ? "before" : "ever";
}

/** So many hours or days back, in the unit that says it whole. */
function Within({ leaf, readOnly, onChange }: Omit<HappenedFormProps, "catalogue">) {
  const hours = leaf.within_hours ?? 24;
  const whole = hours % 24 === 0;
  const [inHours, setInHours] = useState(!whole);
  const unit = inHours || !whole ? 1 : 24;
  return (
    <>
      <NumberField
        label={unit === 24 ? "Days" : "Hours"}
        value={hours / unit}
        min={1}
        disabled={readOnly}
        onChange={(count) => onChange({ ...leaf, within_hours: count * unit })}
        sx={{ width: 80 }}
      />
      <SmallSelect
        label="Unit"
        value={String(unit)}
        options={[
          ["24", "days"],
          ["1", "hours"],
        ]}
        readOnly={readOnly}
        onChange={(next) => {
          setInHours(next === "1");
          if (next === "24" && !whole)
            onChange({ ...leaf, within_hours: Math.ceil(hours / 24) * 24 });
        }}
      />
    </>
  );
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
    <DateBox
      kind="date"
      label={label}
      value={leaf[key] ?? ""}
      disabled={readOnly}
      onChange={(day) => {
        if (day) onChange({ ...leaf, [key]: day });
      }}
      sx={{ width: 180 }}
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
      {when === "within" && <Within leaf={leaf} readOnly={readOnly} onChange={onChange} />}
      {leaf.after && date("after", when === "within" ? "And after the day" : "The day")}
      {leaf.before &&
        date(
          "before",
          when === "between" ? "And the day" : when === "within" ? "And before the day" : "The day",
        )}
    </>
  );
}
