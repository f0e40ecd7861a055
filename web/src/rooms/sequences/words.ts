import type { Way } from "./sequenceDocument";

/** The names of lanes by their ids. */
export type LaneNames = Record<string, string>;

/** Who went a way, in words: where it leads. */
export function wayWords(way: Way, lanes: LaneNames): string {
  if (way.to === "end") return "leaves";
  if (way.to === "on") return "continues";
  const name = lanes[way.lane ?? ""];
  return name === undefined ? "leads to a lane that is gone" : `continues in ${name}`;
}

export const ENDED: Record<string, string> = {
  finished: "finished",
  goal: "reached the goal",
  excluded: "left: excluded",
  no_longer_fits: "left: the door no longer fits",
  unsubscribed: "left: unsubscribed",
  not_on_list: "left: not on the list",
  suppressed: "left: suppressed",
  stopped: "left: a rule stopped it",
  started_over: "started over",
  taken_over: "left: another sequence took over",
  member: "left: taken out by a member",
  step_gone: "left: the step was removed",
};

/** Why people left at a step, in words. */
export function leftWords(left: Record<string, number>): string {
  return Object.entries(left)
    .map(([reason, count]) => `${count} ${(ENDED[reason] ?? reason).replace("left: ", "")}`)
    .join(", ");
}
