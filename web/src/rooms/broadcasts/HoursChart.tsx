import { BarChart } from "@mui/x-charts/BarChart";
import type { Schemas } from "../../api/client";
import { number } from "../../parts/formats";
import { useMoments } from "../../parts/moment";

const HOUR = 3_600_000;
/** More than so many hours stand in days. */
const MOST = 72;

/** How many go within each hour, those between with none. */
export default function HoursChart({ hours }: { hours: Schemas["HourOut"][] }) {
  const moments = useMoments();
  const counts = new Map(hours.map((one) => [Date.parse(one.hour), one.people]));
  const first = Math.min(...counts.keys());
  const last = Math.max(...counts.keys());
  const step = (last - first) / HOUR > MOST ? 24 * HOUR : HOUR;
  const columns = Array.from({ length: Math.floor((last - first) / step) + 1 }, (_, at) => {
    const begins = first + at * step;
    const people = [...counts]
      .filter(([hour]) => hour >= begins && hour < begins + step)
      .reduce((sum, [, count]) => sum + count, 0);
    return { begins: new Date(begins).toISOString(), people };
  });
  return (
    <BarChart
      height={120}
      margin={{ left: 0, right: 0, top: 8, bottom: 0 }}
      colors={["#2F8A70"]}
      skipAnimation
      disableKeyboardNavigation
      hideLegend
      xAxis={[
        {
          data: columns.map((one) => one.begins),
          scaleType: "band",
          valueFormatter: (begins: string, { location }) =>
            location === "tick" && step === HOUR ? moments.time(begins) : moments.moment(begins),
        },
      ]}
      yAxis={[{ width: 40, tickMinStep: 1, valueFormatter: (value: number) => number(value) }]}
      series={[{ id: "people", label: "emails", data: columns.map((one) => one.people) }]}
    />
  );
}
