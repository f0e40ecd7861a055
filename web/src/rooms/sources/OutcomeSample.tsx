import Typography from "@mui/material/Typography";
import type { Schemas } from "../../api/client";

/** What a line of Consent or Then made of the sample. */
export function OutcomeSample({
  sample,
  line,
}: {
  sample: Schemas["SampleOut"] | undefined;
  line: string;
}) {
  if (!sample) return null;
  if (sample.decision.address === null || sample.decision.address === undefined) {
    return (
      <Typography variant="body2" color="textSecondary">
        nothing: there is no address
      </Typography>
    );
  }
  const outcome = sample.decision.outcomes.find((one) => one.line === line);
  return (
    <Typography variant="body2" color={outcome?.acts ? undefined : "textSecondary"}>
      {outcome?.text}
    </Typography>
  );
}
