import Typography from "@mui/material/Typography";
import type { Schemas } from "../../../api/client";
import type { Field } from "../routeDocument";

interface ReadSampleProps {
  report: Schemas["LineReport"] | undefined;
  field: Field | undefined;
}

/** What a line of the map made of the sample: the value kept, and what it does to what was there. */
export function ReadSample({ report, field }: ReadSampleProps) {
  if (!report) return null;
  if (report.problem) {
    return (
      <Typography variant="body2" color="error">
        {report.problem.sentence} {report.problem.fix}
      </Typography>
    );
  }
  const value = shown(report.value, field);
  const before = shown(report.before, field);
  return (
    <Typography variant="body2">
      {value || "—"}{" "}
      <Typography component="span" variant="body2" color="textSecondary">
        {report.note === "replaces" || report.note === "erased"
          ? `${report.note === "erased" ? "empties" : "replaces"} ${before}`
          : report.note}
        {report.note === "kept what was there" && `: ${before}`}
      </Typography>
    </Typography>
  );
}

const COUNTRIES = new Intl.DisplayNames("en", { type: "region" });

type Value = string | boolean | string[] | null | undefined;

function shown(value: Value, field: Field | undefined): string {
  if (typeof value === "boolean") return value ? "yes" : "no";
  if (Array.isArray(value)) return value.map((one) => shown(one, field)).join(", ");
  if (field?.type === "country" && value) return COUNTRIES.of(value) ?? value;
  return field?.choices.find((one) => one.key === value)?.label ?? value ?? "";
}
