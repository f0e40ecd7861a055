import { useTheme } from "@mui/material/styles";
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
/** Told apart by lightness too, so that they are without colour. */
const LIGHT = ["#1F5C4D", "#C49A4A", "#5E7FA8", "#8FB8A8", "#7A4E5C", "#B7BE8E"];
const DARK = ["#7FC4AE", "#D9B56A", "#9DB8DA", "#4D8573", "#C08A9B", "#848C5A"];
const WEEKEND = 0.06;
const CHOSEN = 0.14;
/** Saturday and Sunday, as `Date` counts. */
const isWeekend = (day: string) => [0, 6].includes(new Date(`${day}T12:00:00Z`).getUTCDay());

/** A column for each day, stacked by sequence, weekends shaded. The table beside it says the same. */
export default function AheadChart({ days, names, at: chosen, onDay }: AheadChartProps) {
  const { palette } = useTheme();
  const sequences = [...new Set(days.flatMap((day) => day.emails.map((one) => one.sequence)))];
  const count = (day: Schemas["AheadDay"], sequence: string) =>
    day.emails.filter((one) => one.sequence === sequence).reduce((sum, one) => sum + one.count, 0);
  return (
    <BarChart
      height={HEIGHT}
      margin={{ left: 0, right: 0, top: 8, bottom: 0 }}
      colors={palette.mode === "dark" ? DARK : LIGHT}
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
  const { palette } = useTheme();
  return days.map((day) => (
    <rect
      key={day}
      x={scale(day)}
      y={top}
      width={scale.bandwidth()}
      height={height}
      fill={palette.text.primary}
      opacity={opacity}
      pointerEvents="none"
    />
  ));
}
