import { counted } from "./formats";
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Popover from "@mui/material/Popover";
import Typography from "@mui/material/Typography";
import { useState } from "react";
import type { Schemas } from "../api/client";
import { AskForZones } from "./AskForZones";

type Finding = Schemas["Finding"];

/** Scrolls to what a finding is about, and puts the focus there. */
export function goTo(finding: Pick<Finding, "place">) {
  const place = finding.place ? document.getElementById(finding.place) : null;
  if (!place) return;
  // Once the dialog or menu that was open has given the focus back.
  window.setTimeout(() => {
    place.scrollIntoView({ block: "center" });
    const first = place.querySelector<HTMLElement>("input, select, textarea, button, [href]");
    if (!first) place.tabIndex = -1;
    (first ?? place).focus({ preventScroll: true });
  }, 250);
}

/** The button that says how many findings pre-flight has, and lists them with their fixes. */
export function PreFlight({ findings }: { findings: Finding[] }) {
  const [anchor, setAnchor] = useState<HTMLElement | null>(null);
  const stops = findings.filter((one) => one.stops).length;
  const color = stops ? "error" : findings.length ? "warning" : "primary";
  return (
    <>
      <Button color={color} variant="outlined" onClick={(event) => setAnchor(event.currentTarget)}>
        {findings.length ? `Pre-flight: ${inWords(findings.length, stops)}` : "Pre-flight: clear"}
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

function inWords(all: number, stops: number): string {
  return stops ? counted(stops, "problem", "problems") : counted(all, "note", "notes");
}

function FindingLine({ finding, onGo }: { finding: Finding; onGo: () => void }) {
  const place = finding.place ? document.getElementById(finding.place) : null;
  const go = () => {
    onGo();
    goTo(finding);
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
        <strong>{finding.stops ? "Problem: " : "Note: "}</strong>
        {finding.sentence}
      </Typography>
      <Typography variant="body2" color="textSecondary">
        {finding.fix}{" "}
        {place && (
          <Button size="small" sx={{ p: 0, verticalAlign: "baseline" }} onClick={go}>
            Go there
          </Button>
        )}
        {finding.code === "zones_unknown" && <AskForZones />}
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
