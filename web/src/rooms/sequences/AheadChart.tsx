import { BarChart } from "@mui/x-charts/BarChart";
import { useDrawingArea, useXScale } from "@mui/x-charts/hooks";
import type { Schemas } from "../../api/client";
import { dayInWords, number } from "../../parts/formats";

interface AheadChartProps {
  days: Schemas["AheadDay"][];
  /** Names of sequences, by id. */
  names: Map<string, string>;
  /** The day whose messages are shown, by its index. */
  at: number;
  /** A day that was pressed. */
  onDay: (index: number) => void;
}

const HEIGHT = 180;
/** Each has a contrast of 3 to the paper of both themes (WCAG 2.2, 1.4.11). */
const COLOURS = ["#2F8A70", "#B98122", "#5C80C0", "#A8657F", "#7F8C36", "#86807A"];
const WEEKEND = 0.06;
const CHOSEN = 0.14;
/** Saturday and Sunday, as `Date` counts. */
const isWeekend = (day: string) => [0, 6].includes(new Date(`${day}T12:00:00Z`).getUTCDay());

/** A column for each day, stacked by sequence, weekends shaded. The table beside it says the same. */
export default function AheadChart({ days, names, at: chosen, onDay }: AheadChartProps) {
  const sequences = [...new Set(days.flatMap((day) => day.emails.map((one) => one.sequence)))];
  const count = (day: Schemas["AheadDay"], sequence: string) =>
    day.emails.filter((one) => one.sequence === sequence).reduce((sum, one) => sum + one.count, 0);
  return (
    <BarChart
      height={HEIGHT}
      margin={{ left: 0, right: 0, top: 8, bottom: 0 }}
      colors={COLOURS}
      skipAnimation
      disableKeyboardNavigation
      onAxisClick={(_, at) => {
        if (at) onDay(at.dataIndex);
      }}
      xAxis={[
        {
          data: days.map((day) => day.day),
          scaleType: "band",
          valueFormatter: (day: string, { location }) =>
            dayInWords(
              day,
              location === "tick"
                ? { day: "numeric" }
                : { weekday: "long", day: "numeric", month: "long" },
            ),
        },
      ]}
      yAxis={[{ width: 32, tickMinStep: 1, valueFormatter: (value: number) => number(value) }]}
      series={sequences.map((sequence) => ({
        id: sequence,
        label: names.get(sequence) ?? "a sequence that is gone",
        stack: "all",
        data: days.map((day) => count(day, sequence)),
        valueFormatter: (value: number | null) => (value ? number(value) : null),
      }))}
      slotProps={{ legend: { position: { vertical: "top", horizontal: "start" } } }}
    >
      <Shaded days={days.map((day) => day.day).filter(isWeekend)} opacity={WEEKEND} />
      <Shaded days={days.slice(chosen, chosen + 1).map((day) => day.day)} opacity={CHOSEN} />
    </BarChart>
  );
}

/** Days shaded from top to bottom. */
function Shaded({ days, opacity }: { days: string[]; opacity: number }) {
  const scale = useXScale<"band">();
  const { top, height } = useDrawingArea();
  return days.map((day) => (
    <rect
      key={day}
      x={scale(day)}
      y={top}
      width={scale.bandwidth()}
      height={height}
      fill="currentColor"
      opacity={opacity}
      pointerEvents="none"
    />
  ));
}
