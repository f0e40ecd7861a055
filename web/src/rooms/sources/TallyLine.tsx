import Typography from "@mui/material/Typography";
import type { Schemas } from "../../api/client";

/** Rows by what becomes of them, and why some are refused. */
export function TallyLine({ tally, done }: { tally: Schemas["Tally"]; done: boolean }) {
  const figures: [number, string][] = [
    [tally.new, "new"],
    [tally.updated, done ? "updated" : "to update"],
    [tally.unchanged, "unchanged"],
    [tally.again, "of an address that stands earlier in the file"],
    [tally.refused, "refused"],
  ];
  return (
    <>
      <Typography sx={{ fontVariantNumeric: "tabular-nums" }}>
        {figures
          .filter(([count, word]) => count > 0 || word === "new" || word === "refused")
          .map(([count, word]) => `${count.toLocaleString("en-GB")} ${word}`)
          .join(" · ")}
      </Typography>
      {tally.refusals.map((one) => (
        <Typography key={one.sentence} variant="body2" color="error">
          {one.rows.toLocaleString("en-GB")} {one.rows === 1 ? "row" : "rows"}, such as:{" "}
          {one.sentence}
        </Typography>
      ))}
    </>
  );
}
