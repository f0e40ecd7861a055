import { counted } from "../../parts/formats";
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Typography from "@mui/material/Typography";
import { useMemo, useState } from "react";
import type { Schemas } from "../../api/client";
import { AsSeen } from "./AsSeen";
import { ASSUMED, branchNames, datesIn, type Entry, type Rehearsal } from "./rehearsal";
import { placeOf, type SequenceDocument } from "./sequenceDocument";
import { ENDED } from "./words";

interface ListedProps {
  rehearsal: Rehearsal;
  document: SequenceDocument;
  catalogue: Schemas["CatalogueOut"];
  person: Schemas["PersonLine"] | null;
}

/** Everything that happens, in order, in the person's own zone; each email opens. */
export function RehearsalList({ rehearsal, document, catalogue, person }: ListedProps) {
  const [open, setOpen] = useState<string>();
  const dates = useMemo(() => datesIn(rehearsal.time_zone), [rehearsal.time_zone]);
  const branches = useMemo(() => branchNames(document), [document]);
  const emails = rehearsal.entries.filter((one) => one.kind === "sends");
  const shown = rehearsal.entries.filter((one) => one.kind !== "waits" || rehearsal.cut);
  const last = rehearsal.entries[rehearsal.entries.length - 1];
  return (
    <>
      <Typography variant="body2" sx={{ mt: 1.5 }}>
        <strong>{counted(emails.length, "email", "emails")}</strong>
        {last && ` until ${dates.day(last.until ?? last.at)}`} · in {rehearsal.time_zone}
        {rehearsal.endless ? ", and it never ends" : rehearsal.cut && ", and it goes on"}
      </Typography>
      <Box component="ol" aria-label="What happens" sx={{ listStyle: "none", p: 0, m: 0, mt: 1 }}>
        {shown.slice(0, 400).map((entry, index) => (
          <Box
            key={index}
            component="li"
            sx={{
              display: "grid",
              gridTemplateColumns: "108px minmax(0, 1fr)",
              columnGap: 1,
              py: 0.5,
              borderBottom: 1,
              borderColor: "divider",
            }}
          >
            <Typography
              variant="caption"
              sx={{ fontWeight: 600 }}
              color={entry.moved.length > 0 ? "warning" : "inherit"}
            >
              {dates.short(entry.at)}
            </Typography>
            <Box sx={{ minWidth: 0 }}>
              {entry.kind === "sends" ? (
                <Button
                  sx={{ p: 0, textAlign: "left", whiteSpace: "normal" }}
                  onClick={() => setOpen(entry.message)}
                >
                  {catalogue.messages.find((one) => one.id === entry.message)?.name ??
                    "a message that is gone"}
                </Button>
              ) : (
                <Typography variant="caption" component="div">
                  {words(entry, document, catalogue, branches, dates.short)}
                </Typography>
              )}
              {entry.moved[0] && (
                <Typography variant="caption" component="div" color="textSecondary">
                  moved from {dates.short(entry.moved[0].wanted)}:{" "}
                  {entry.moved.map((one) => one.why).join(", then ")}
                </Typography>
              )}
            </Box>
          </Box>
        ))}
      </Box>
      {open && <AsSeen message={open} person={person} onClose={() => setOpen(undefined)} />}
    </>
  );
}

function words(
  entry: Entry,
  document: SequenceDocument,
  catalogue: Schemas["CatalogueOut"],
  branches: Record<string, string>,
  short: (iso: string) => string,
): string {
  const lane = document.lanes.find((one) => one.id === entry.lane)?.name ?? "";
  switch (entry.kind) {
    case "enters":
      return `enters lane ${lane}`;
    case "waits":
      return `waits${entry.until ? ` until ${short(entry.until)}` : ""}`;
    case "goes": {
      const at = placeOf(document, entry.step);
      const kind = at?.lane.steps[at.index]?.kind;
      const way = branches[`${entry.step}/${entry.says}`] ?? WAYS[entry.says] ?? entry.says;
      return `${kind === "split" || kind === "chance" ? "split" : "wait"}: ${way}`;
    }
    case "acts":
      return entry.says;
    case "goal":
      return `goal reached: ${entry.says}`;
    case "ends":
      return entry.says === "finished" ? "the end" : (ENDED[entry.says] ?? entry.says);
    case "stuck":
      return `stuck: ${entry.says}`;
    case "assumed": {
      const [kind = "", about = ""] = entry.says.split(":");
      const named =
        catalogue.tags.find((one) => one.id === about)?.name ??
        catalogue.fields.find((one) => one.key === about)?.label ??
        about;
      const assumption = ASSUMED.find(([one]) => one === kind)?.[1] ?? kind;
      return `assumed: ${assumption.toLowerCase()}${named ? ` (${named})` : ""}`;
    }
    default:
      return "";
  }
}

const WAYS: Record<string, string> = {
  held: "it holds",
  otherwise: "otherwise",
  date: "the date came",
  stop: "ends here",
  stops: "stops itself",
};
