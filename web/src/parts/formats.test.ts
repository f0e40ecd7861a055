import { afterEach, expect, test } from "vitest";
import {
  counted,
  dateFormat,
  dayInWords,
  number,
  plural,
  setFormats,
  times,
  timeInWords,
  type Formats,
} from "./formats";

const USUAL: Formats = { dates: "day", clock: 24, numbers: "comma" };
const MOMENT = new Date("2026-11-04T14:05:00Z");
const WHOLE = {
  day: "numeric",
  month: "short",
  year: "numeric",
  hour: "2-digit",
  minute: "2-digit",
  timeZone: "UTC",
} as const;

afterEach(() => setFormats(USUAL));

test("dates and times as each member is used to them", () => {
  const written: Record<string, string> = {};
  for (const dates of ["day", "month", "year"] as const)
    for (const clock of [24, 12] as const) {
      setFormats({ ...USUAL, dates, clock });
      written[`${dates} ${clock}`] = dateFormat(WHOLE)(MOMENT);
    }
  expect(written).toEqual({
    "day 24": "4 Nov 2026, 14:05",
    "day 12": "4 Nov 2026, 2:05 pm",
    "month 24": "Nov 4, 2026, 14:05",
    "month 12": "Nov 4, 2026, 2:05 PM",
    "year 24": "2026-11-04 14:05",
    "year 12": "2026-11-04 2:05 PM",
  });
});

test("midnight is 00:00 and the day is the one of the zone", () => {
  const midnight = dateFormat({ ...WHOLE, timeZone: "Europe/Vienna" });
  expect(midnight(new Date("2026-11-03T23:00:00Z"))).toBe("4 Nov 2026, 00:00");
  expect(timeInWords("00:30:00")).toBe("00:30");
  setFormats({ ...USUAL, clock: 12 });
  expect(timeInWords("00:30")).toBe("12:30 am");
});

test("days without a year follow the order too", () => {
  expect(dayInWords("2026-11-04", { weekday: "short", day: "numeric", month: "short" })).toBe(
    "Wed 4 Nov",
  );
  setFormats({ ...USUAL, dates: "month" });
  expect(dayInWords("2026-11-04", { day: "numeric", month: "short" })).toBe("Nov 4");
  expect(dayInWords("2026-11-01", { month: "long", year: "numeric" })).toBe("November 2026");
});

test("numbers, and how many of something", () => {
  const all = (["comma", "point", "space"] as const).map((numbers) => {
    setFormats({ ...USUAL, numbers });
    return [number(1234567), number(6.149, 1), counted(1234, "person", "people")];
  });
  expect(all).toEqual([
    ["1,234,567", "6.1", "1,234 people"],
    ["1.234.567", "6,1", "1.234 people"],
    ["1\u202f234\u202f567", "6,1", "1\u202f234 people"],
  ]);
  setFormats(USUAL);
  expect([counted(1, "row", "rows"), counted(0, "row", "rows"), times(1), times(2)]).toEqual([
    "1 row",
    "0 rows",
    "once",
    "2 times",
  ]);
  expect([plural(1, "is", "are"), plural(2, "is", "are")]).toEqual(["is", "are"]);
});
