import { useSyncExternalStore } from "react";
import type { Schemas } from "../api/client";

/** How the member who is signed in writes dates, times and numbers. */
export type Formats = Schemas["Formats"];

const USUAL: Formats = { dates: "day", clock: 24, numbers: "comma" };
const DATES = { day: "en-GB", month: "en-US", year: "en-US" } as const;
const NUMBERS = { comma: "en-GB", point: "de-DE", space: "fr-FR" } as const;
const PLURALS = new Intl.PluralRules("en");

let formats: Formats = USUAL;
const listeners = new Set<() => void>();

/** Chosen by the member; the shell shows everything anew then. */
export function setFormats(chosen: Formats): void {
  const { dates, clock, numbers } = chosen;
  if (dates === formats.dates && clock === formats.clock && numbers === formats.numbers) return;
  formats = { dates, clock, numbers };
  for (const listener of listeners) listener();
}

/** Another value as soon as something is written in another way. */
export function useFormats(): Formats {
  return useSyncExternalStore(subscribe, formatsNow);
}

function subscribe(listener: () => void): () => void {
  listeners.add(listener);
  return () => listeners.delete(listener);
}

export function formatsNow(): Formats {
  return formats;
}

/** 12,345 */
export function number(count: number, decimals = 0): string {
  return count.toLocaleString(NUMBERS[formats.numbers], {
    minimumFractionDigits: decimals,
    maximumFractionDigits: Math.max(decimals, Number.isInteger(count) ? 0 : decimals),
  });
}

/** “person” of one, “people” of any other number. */
export function plural(count: number, one: string, many: string): string {
  return PLURALS.select(count) === "one" ? one : many;
}

/** "1 person", "12 people". */
export function counted(count: number, one: string, many: string): string {
  return `${number(count)} ${plural(count, one, many)}`;
}

/** "once", "12 times". */
export function times(count: number): string {
  return plural(count, "once", `${number(count)} times`);
}

/** Writes moments with what `options` names of them, in the order and by the clock of the member. */
export function dateFormat(options: Intl.DateTimeFormatOptions): (moment: Date) => string {
  const { dates, clock } = formats;
  const whole: Intl.DateTimeFormatOptions = options.hour
    ? {
        ...options,
        hour: clock === 24 ? "2-digit" : "numeric",
        hourCycle: clock === 12 ? "h12" : "h23",
      }
    : options;
  if (dates === "year" && options.day && options.month && options.year) return yearFirst(whole);
  const format = new Intl.DateTimeFormat(DATES[dates], whole);
  // Midnight is 00:00, and a narrow blank before "pm" is a blank like others.
  return (moment) =>
    format
      .format(moment)
      .replace(/\u202f/g, " ")
      .replace(/\b24:/, "00:");
}

/** 2026-11-24, as ISO 8601 has it, with what else is asked for around it. */
function yearFirst(options: Intl.DateTimeFormatOptions): (moment: Date) => string {
  const { weekday, hour, minute, timeZone } = options;
  const date = new Intl.DateTimeFormat("sv-SE", {
    year: "numeric",
    month: "2-digit",
    day: "2-digit",
    timeZone,
  });
  const before = weekday && new Intl.DateTimeFormat("en-GB", { weekday, timeZone });
  const after = hour && dateFormat({ hour, minute, timeZone });
  return (moment) =>
    [before && before.format(moment), date.format(moment), after && after(moment)]
      .filter(Boolean)
      .join(" ");
}

const WHOLE_DAY = { day: "numeric", month: "short", year: "numeric" } as const;

/** A day that is written as 2026-11-24, in words; `options` says what of it. */
export function dayInWords(day: string, options: Intl.DateTimeFormatOptions = WHOLE_DAY): string {
  return dateFormat({ ...options, timeZone: "UTC" })(new Date(`${day}T12:00:00Z`));
}

/** A time that is written as 09:00, by the clock of the member. */
export function timeInWords(time: string): string {
  return dateFormat({ hour: "2-digit", minute: "2-digit", timeZone: "UTC" })(
    new Date(`2026-01-01T${time.slice(0, 5)}:00Z`),
  );
}
