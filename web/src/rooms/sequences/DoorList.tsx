import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Typography from "@mui/material/Typography";
import { Link } from "react-router";
import type { Schemas } from "../../api/client";
import { useSlug } from "../../api/workspace";
import { useLeadIn } from "./useLeadIn";
import { sourcePlace } from "./usePath";
import { AGAIN, type Selection, type SequenceDocument } from "./sequenceDocument";

interface DoorListProps {
  sequence: string;
  readOnly: boolean;
  lane: string;
  document: SequenceDocument;
  words: Record<string, string>;
  /** The rules of routes that start this sequence. */
  routes: Schemas["DoorOut"][];
  findings: Schemas["Finding"][];
  selection: Selection | undefined;
  onSelect: (selection: Selection) => void;
}

/** How people come into a lane. */
export function DoorList(props: DoorListProps) {
  const { sequence, readOnly, lane, document, words, routes, findings, selection, onSelect } =
    props;
  const workspace = useSlug();
  const { leadNoMore } = useLeadIn(sequence);
  const first = document.lanes[0]?.id;
  const doors = document.doors.filter((one) => (one.lane ?? first) === lane);
  const byRoute = routes.filter((one) => one.lane_id === lane);
  return (
    <>
      {byRoute.map((one) => (
        <Typography
          key={one.source + one.rule}
          id={sourcePlace(one.source)}
          variant="caption"
          component="div"
        >
          <Link to={`/w/${workspace}/sources/${one.source}#${one.rule}`}>{one.name}</Link>
          {!one.live && " (draft)"}
          {!readOnly && (
            <Button
              color="inherit"
              title="Remove"
              aria-label={`Remove the door from “${one.name}”`}
              onClick={() => void leadNoMore(one.source, lane)}
              sx={{ minWidth: 24, height: 24, p: 0, ml: 0.5, color: "text.secondary" }}
            >
              ✕
            </Button>
          )}
        </Typography>
      ))}
      {doors.map((door) => {
        const wrong = findings.find((one) => one.place === door.id);
        const selected = selection?.kind === "door" && selection.id === door.id;
        return (
          <Box
            key={door.id}
            id={door.id}
            component="button"
            type="button"
            aria-pressed={selected}
            onClick={() => onSelect({ kind: "door", id: door.id })}
            sx={{
              display: "block",
              width: "100%",
              textAlign: "left",
              font: "inherit",
              color: door.open ? "inherit" : "text.secondary",
              bgcolor: "transparent",
              border: 2,
              borderColor: selected ? "primary.main" : "transparent",
              borderRadius: 0.5,
              px: 0.5,
              ml: -0.75,
              cursor: "pointer",
              "&:hover": { bgcolor: "action.hover" },
              "&:focus-visible": { outline: 2, outlineColor: "primary.main" },
            }}
          >
            <Typography variant="caption" component="div">
              {words[door.id] ?? door.kind}
              {door.only && " · only for some"}
              {!door.open && " · closed"}
            </Typography>
            {door.again && (
              <Typography variant="caption" component="div" color="textSecondary">
                again: {AGAIN[door.again]}
              </Typography>
            )}
            {wrong && (
              <Typography
                variant="caption"
                component="div"
                color={wrong.stops ? "error" : "warning"}
              >
                {wrong.stops ? "▲" : "△"} {wrong.sentence}
              </Typography>
            )}
          </Box>
        );
      })}
      {doors.length + byRoute.length === 0 && (
        <Typography variant="caption" color="textSecondary">
          no door yet
        </Typography>
      )}
    </>
  );
}
