import { dateFormat } from "../../parts/formats";
import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { rehearsalQuery } from "../../api/sequences";
import { type Schemas } from "../../api/client";
import { useSlug } from "../../api/workspace";
import { useSettled } from "../../parts/useSettled";
import type { Rehearsed } from "./LaneCells";
import { type SequenceDocument } from "./sequenceDocument";

export type Rehearsal = Schemas["SequenceRehearsalOut"];
export type Entry = Rehearsal["entries"][number];
export type Assumption = Schemas["Assumption"];

export interface Who {
  person: Schemas["PersonLine"] | null;
  time_zone: string;
  on_list: "subscribed" | "pending" | "none";
  /** By the keys of fields. */
  values: Record<string, string>;
  tags: string[];
}

export interface RehearsalAsked {
  who: Who;
  lane: string;
  start: string;
  assumptions: Assumption[];
}

export const ASKED: RehearsalAsked = {
  who: { person: null, time_zone: "", on_list: "subscribed", values: {}, tags: [] },
  lane: "",
  start: "",
  assumptions: [],
};

/** What a rehearsal is asked for, as the API takes it. */
export function bodyOf(asked: RehearsalAsked): Schemas["SequenceRehearseIn"] {
  const { who } = asked;
  return {
    person: who.person?.id ?? null,
    made_up: who.person
      ? null
      : {
          time_zone: who.time_zone,
          values: who.values,
          tags: who.tags,
          on_list: who.on_list,
        },
    lane: asked.lane || null,
    door: "",
    start: asked.start ? new Date(asked.start).toISOString() : null,
    assumptions: asked.assumptions,
  };
}

/** The rehearsal of a sequence as it is shown; it follows each change once that is saved. */
export function useRehearsal(sequence: Schemas["SequenceOut"], asked: RehearsalAsked, on: boolean) {
  const workspace = useSlug();
  const settled = useSettled(asked, 300);
  return useQuery({
    ...rehearsalQuery(workspace, sequence, bodyOf(settled)),
    enabled: on,
    placeholderData: keepPreviousData,
  });
}

/** What the rehearsal says of each step, for the lanes and the margin. */
export function rehearsedSteps(rehearsal: Rehearsal, branches: Record<string, string>): Rehearsed {
  const dates = datesIn(rehearsal.time_zone);
  const found: Rehearsed = {};
  for (const entry of rehearsal.entries) {
    if (!entry.step) continue;
    const step = (found[entry.step] ??= { times: [], way: "", moved: "" });
    if (entry.kind === "sends" || entry.kind === "acts" || entry.kind === "goes") {
      const at = dates.short(entry.at);
      if (!step.times.includes(at)) step.times.push(at);
    }
    if (entry.kind === "goes") step.way = branches[`${entry.step}/${entry.says}`] ?? entry.says;
    if (entry.moved[0])
      step.moved = `was ${dates.short(entry.moved[0].wanted)}: ${entry.moved.map((one) => one.why).join(", ")}`;
  }
  return found;
}

/** The names of the branches of splits, by step and branch. */
export function branchNames(document: SequenceDocument): Record<string, string> {
  const found: Record<string, string> = {};
  for (const lane of document.lanes)
    for (const step of lane.steps)
      if (step.kind === "split" || step.kind === "chance")
        step.of.forEach((one, index) => {
          found[`${step.id}/${one.id}`] = one.name || `branch ${index + 1}`;
        });
  return found;
}

export function datesIn(timeZone: string) {
  const short = dateFormat({
    weekday: "short",
    day: "numeric",
    month: "short",
    hour: "2-digit",
    minute: "2-digit",
    timeZone,
  });
  const day = dateFormat({
    weekday: "short",
    day: "numeric",
    month: "short",
    year: "numeric",
    timeZone,
  });
  return {
    short: (iso: string) => short(new Date(iso)),
    day: (iso: string) => day(new Date(iso)),
  };
}

/** What can be assumed to happen. */
export const ASSUMED: [Assumption["kind"], string][] = [
  ["event", "An event happens"],
  ["confirms", "They confirm the list"],
  ["leaves_list", "They unsubscribe"],
  ["tag", "A tag is added"],
  ["no_tag", "A tag is removed"],
  ["field", "A field changes"],
];
