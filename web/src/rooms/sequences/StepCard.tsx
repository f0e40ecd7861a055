import { number } from "../../parts/formats";
import Box from "@mui/material/Box";
import Typography from "@mui/material/Typography";
import type { Schemas } from "../../api/client";
import { useMoments } from "../../parts/moment";
import { percent } from "../../parts/share";
import type { Step } from "./sequenceDocument";
import { wayWords, type LaneNames } from "./words";

interface StepCardProps {
  step: Step;
  lanes: LaneNames;
  /** What it does and with what; none while the server has not seen it yet. */
  heading: Schemas["Heading"] | undefined;
  count: Schemas["StepCount"] | undefined;
  /** How many came to the first step of the lane: the whole of the bar. */
  whole: number;
  wrong: Schemas["Finding"] | undefined;
  selected: boolean;
  /** Of a rehearsal: whether the person comes here, and when, in words. */
  rehearsed?: { times: string[]; way: string } | null | undefined;
  onOpen: () => void;
}

/** A step to be read: one or two lines and its counts. Pressed, it opens for editing. */
export function StepCard(props: StepCardProps) {
  const { step, lanes, heading, count, whole, wrong, selected, rehearsed, onOpen } = props;
  const moments = useMoments();
  const second = detail(step, lanes, count);
  const faded = rehearsed === null;
  return (
    <Box
      component="button"
      type="button"
      id={step.id}
      aria-pressed={selected}
      onClick={onOpen}
      sx={{
        display: "grid",
        gridTemplateColumns: "minmax(0, 1fr) auto",
        columnGap: 1,
        width: "100%",
        textAlign: "left",
        font: "inherit",
        color: "inherit",
        bgcolor: "transparent",
        border: 2,
        borderColor: selected ? "primary.main" : "transparent",
        borderRadius: 0.5,
        px: 0.75,
        py: 0.5,
        cursor: "pointer",
        opacity: faded ? 0.4 : 1,
        scrollMarginTop: 120,
        "&:hover": { bgcolor: "action.hover" },
        "&:focus-visible": { outline: 2, outlineColor: "primary.main" },
      }}
    >
      <Box sx={{ minWidth: 0 }}>
        <Typography variant="body2" component="span" sx={{ overflowWrap: "anywhere" }}>
          <strong>{heading?.verb ?? "Step"}</strong> {heading?.rest}
        </Typography>
        {second && (
          <Typography variant="caption" component="div" color="textSecondary">
            {second}
          </Typography>
        )}
        {rehearsed && (
          <Typography variant="caption" component="div" color="info" sx={{ fontWeight: 600 }}>
            {[...rehearsed.times.slice(0, 3), rehearsed.way].filter(Boolean).join(" · ")}
          </Typography>
        )}
        {count && step.kind === "send" && count.clicked + count.opened + count.came_back > 0 && (
          <Typography variant="caption" component="div" color="textSecondary">
            {[
              count.opened > 0 && `about ${percent(count.opened, count.sent)} opened`,
              count.clicked > 0 && `${percent(count.clicked, count.sent)} clicked`,
              count.came_back > 0 && `${count.came_back} came back`,
            ]
              .filter(Boolean)
              .join(" · ")}{" "}
            of {number(count.sent)}
          </Typography>
        )}
        {count && step.kind === "send" && count.until > 0 && (
          <Typography variant="caption" component="div" color="textSecondary">
            {waiting(count, moments)}
          </Typography>
        )}
        {count && (count.held > 0 || count.failed > 0) && (
          <Typography variant="caption" component="div" color="error">
            {[count.held && `${count.held} held`, count.failed && `${count.failed} failed`]
              .filter(Boolean)
              .join(" · ")}
          </Typography>
        )}
        {wrong && (
          <Typography
            variant="caption"
            component="div"
            color={wrong.stops ? "error" : "warning"}
            title={wrong.sentence}
            sx={{
              display: "-webkit-box",
              WebkitLineClamp: 2,
              WebkitBoxOrient: "vertical",
              overflow: "hidden",
            }}
          >
            {wrong.stops ? "▲" : "△"} {wrong.sentence}
          </Typography>
        )}
      </Box>
      {count && rehearsed === undefined && <Came count={count} whole={whole} />}
    </Box>
  );
}

/** "42 waiting until Tue 8 Dec, 09:00": its emails that may not go out yet. */
function waiting(
  count: Schemas["StepCount"],
  { now, moment }: ReturnType<typeof useMoments>,
): string {
  const many = `${number(count.until)} waiting`;
  const next = count.next_at;
  return next && new Date(next) > now() ? `${many} until ${moment(next)}` : `${many} to go out`;
}

function Came({ count, whole }: { count: Schemas["StepCount"]; whole: number }) {
  const share = whole > 0 ? Math.min(1, count.came / whole) : 0;
  const left = Object.values(count.left).reduce((sum, one) => sum + one, 0);
  return (
    <Box sx={{ textAlign: "right", minWidth: 46 }}>
      <Typography
        variant="body2"
        component="div"
        sx={{ fontWeight: 600, fontVariantNumeric: "tabular-nums" }}
      >
        {number(count.came)}
      </Typography>
      <Box aria-hidden sx={{ height: 4, bgcolor: "divider" }}>
        <Box sx={{ height: 4, width: `${share * 100}%`, bgcolor: "primary.main" }} />
      </Box>
      {left > 0 && (
        <Typography variant="caption" component="div" color="textSecondary">
          −{number(left)}
          {count.came > 0 && ` · ${percent(left, count.came)}`}
        </Typography>
      )}
    </Box>
  );
}

/** The second line: options of an email, the branches of a split with who went. */
function detail(step: Step, lanes: LaneNames, count: Schemas["StepCount"] | undefined): string {
  const went = (way: string) =>
    count?.ways[way] === undefined ? "" : ` ${number(count.ways[way])}`;
  switch (step.kind) {
    case "send":
      if (step.at_once) return "requested: at once";
      return step.any_hour ? "at any hour" : "";
    case "split":
      return [
        ...step.of.map(
          (one, index) =>
            `${one.name || `${index + 1}`}: ${wayWords(one.way, lanes)}${went(one.id)}`,
        ),
        `otherwise: ${wayWords(step.otherwise, lanes)}${went("otherwise")}`,
      ].join(" · ");
    case "chance":
      return step.of
        .map((one) => `${one.name}: ${wayWords(one.way, lanes)}${went(one.id)}`)
        .join(" · ");
    case "wait_condition":
      return `then ${wayWords(step.held, lanes)}; if not: ${wayWords(step.otherwise, lanes)}`;
    default:
      return "";
  }
}
