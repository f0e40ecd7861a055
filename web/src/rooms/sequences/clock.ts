import { counted } from "../../parts/formats";
import type { Lane, Step } from "./sequenceDocument";

const SECONDS = { minutes: 60, hours: 3600, days: 86_400, weeks: 604_800 } as const;

/** A place on the clock: seconds since the door, and how many waits of no known length came first. */
export interface Moment {
  seconds: number;
  unknown: number;
}

export interface Segment {
  at: Moment;
  /** The waits that lead here, and what happens here. */
  waits: Step[];
  steps: Step[];
}

/** The steps of a lane by when they happen, as far as that is known. */
export function segmentsOf(lane: Lane): Segment[] {
  const found: Segment[] = [{ at: { seconds: 0, unknown: 0 }, waits: [], steps: [] }];
  for (const step of lane.steps) {
    let last = found[found.length - 1];
    if (!last) break;
    if (isWait(step)) {
      if (last.steps.length > 0) {
        last = { at: { ...last.at }, waits: [], steps: [] };
        found.push(last);
      }
      last.waits.push(step);
      if (step.kind === "wait") {
        last.at.seconds += step.duration.amount * SECONDS[step.duration.unit];
      } else last.at.unknown += 1;
    } else last.steps.push(step);
  }
  return found;
}

export function isWait(step: Step): boolean {
  return step.kind.startsWith("wait");
}

/** The rows of the clock that lanes side by side share, in order. */
export function rowsOf(lanes: Lane[]): Moment[] {
  const all = new Map<string, Moment>();
  for (const lane of lanes) for (const { at } of segmentsOf(lane)) all.set(keyOf(at), at);
  return [...all.values()].sort((a, b) => a.unknown - b.unknown || a.seconds - b.seconds);
}

export function keyOf(at: Moment): string {
  return `${at.unknown}/${at.seconds}`;
}

/** The time since the door in words: "at once", "+1 day", "+3 days 2 h". */
export function clockWords({ seconds, unknown }: Moment): string {
  if (seconds === 0) return unknown ? "later" : "at once";
  const days = Math.floor(seconds / 86_400);
  const hours = Math.floor((seconds % 86_400) / 3600);
  const minutes = Math.floor((seconds % 3600) / 60);
  const parts = [
    days && counted(days, "day", "days"),
    hours && `${hours} h`,
    minutes && `${minutes} min`,
  ];
  const known = `+${parts.filter(Boolean).join(" ")}`;
  return unknown ? `${known} or later` : known;
}
