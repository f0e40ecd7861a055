import { counted, number } from "../../../parts/formats";
import Typography from "@mui/material/Typography";
import type { Schemas } from "../../../api/client";

/** Rows by what becomes of them, and why some are refused. */
export function TallyLine({ tally, done }: { tally: Schemas["Tally"]; done: boolean }) {
  const figures: [number, string][] = [
    [tally.new, "new"],
    [tally.updated, done ? "updated" : "to update"],
    [tally.unchanged, "unchanged"],
    [tally.again, "with an address that is earlier in the file"],
    [tally.refused, "refused"],
  ];
  return (
    <>
      <Typography sx={{ fontVariantNumeric: "tabular-nums" }}>
        {figures
          .filter(([count, word]) => count > 0 || word === "new" || word === "refused")
          .map(([count, word]) => `${number(count)} ${word}`)
          .join(" · ")}
      </Typography>
      {tally.short > 0 && (
        <Typography variant="body2" color="warning.main">
          {tally.short === 1
            ? "1 row has fewer cells than there are headings; what is missing counts as empty."
            : `${number(tally.short)} rows have fewer cells than there are headings; what is missing counts as empty.`}
        </Typography>
      )}
      {tally.refusals.map((one) => (
        <Typography key={one.sentence} variant="body2" color="error">
          {counted(one.rows, "row", "rows")}, such as: {one.sentence}
        </Typography>
      ))}
    </>
  );
}
