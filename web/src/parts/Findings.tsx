import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Popover from "@mui/material/Popover";
import Typography from "@mui/material/Typography";
import { useState } from "react";
import type { Schemas } from "../api/client";

type Finding = Schemas["Finding"];

/** The button that says how many findings pre-flight has, and lists them with their fixes. */
export function PreFlight({ findings }: { findings: Finding[] }) {
  const [anchor, setAnchor] = useState<HTMLElement | null>(null);
  const stops = findings.filter((one) => one.stops).length;
  const color = stops ? "error" : findings.length ? "warning" : "primary";
  return (
    <>
      <Button color={color} variant="outlined" onClick={(event) => setAnchor(event.currentTarget)}>
        {findings.length ? `Pre-flight: ${findings.length} to see` : "Pre-flight: clear"}
      </Button>
      <Popover
        open={Boolean(anchor)}
        anchorEl={anchor}
        onClose={() => setAnchor(null)}
        anchorOrigin={{ vertical: "bottom", horizontal: "right" }}
        transformOrigin={{ vertical: "top", horizontal: "right" }}
        slotProps={{ paper: { sx: { width: 420, maxWidth: "92vw", p: 2 } } }}
      >
        {findings.length === 0 && (
          <Typography variant="body2">Nothing is missing, unreachable or contradictory.</Typography>
        )}
        {findings.map((finding) => (
          <FindingLine
            key={finding.code + finding.place}
            finding={finding}
            onGo={() => setAnchor(null)}
          />
        ))}
      </Popover>
    </>
  );
}

function FindingLine({ finding, onGo }: { finding: Finding; onGo: () => void }) {
  const place = finding.place ? document.getElementById(finding.place) : null;
  const go = () => {
    onGo();
    place?.scrollIntoView({ block: "center" });
  };
  return (
    <Box
      sx={{
        mb: 1.5,
        pl: 1.25,
        borderLeft: 3,
        borderColor: finding.stops ? "error.main" : "warning.main",
      }}
    >
      <Typography variant="body2">
        <strong>{finding.stops ? "Stops: " : "Look: "}</strong>
        {finding.sentence}
      </Typography>
      <Typography variant="body2" color="textSecondary">
        {finding.fix}{" "}
        {place && (
          <Button size="small" sx={{ p: 0, verticalAlign: "baseline" }} onClick={go}>
            Go there
          </Button>
        )}
      </Typography>
    </Box>
  );
}

/** What pre-flight says about one place, beside it. */
export function FindingsAt({ findings, place }: { findings: Finding[]; place: string }) {
  return findings
    .filter((one) => one.place === place)
    .map((one) => (
      <Typography
        key={one.code}
        variant="caption"
        component="div"
        color={one.stops ? "error" : "warning"}
      >
        {one.sentence} {one.fix}
      </Typography>
    ));
}
