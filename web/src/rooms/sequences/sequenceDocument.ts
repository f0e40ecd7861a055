import type { Schemas } from "../../api/client";

export type SequenceDocument = Schemas["SequenceDocument"];
export type Lane = Schemas["Lane"];
export type Step = Lane["steps"][number];
export type Duration = Schemas["Duration"];

const SECONDS = { minutes: 60, hours: 3600, days: 86_400, weeks: 604_800 } as const;

/** For each step, the time since the door in words: "at once", "+1 day", "+3 days 2 h". */
export function clockOf(steps: Step[]): string[] {
  let elapsed = 0;
  return steps.map((step) => {
    const here = clockWords(elapsed);
    if (step.kind === "wait") elapsed += step.duration.amount * SECONDS[step.duration.unit];
    return here;
  });
}

function clockWords(seconds: number): string {
  if (seconds === 0) return "at once";
  const days = Math.floor(seconds / 86_400);
  const hours = Math.floor((seconds % 86_400) / 3600);
  const minutes = Math.floor((seconds % 3600) / 60);
  const parts = [
    days && `${days} ${days === 1 ? "day" : "days"}`,
    hours && `${hours} h`,
    minutes && `${minutes} min`,
  ];
  return `+${parts.filter(Boolean).join(" ")}`;
}
