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

/** A step to be read in two lines: what it does and how many came; its options, or how its email did. A third
 * says what waits, is held or is wrong. Pressed, it opens for editing; the rest stands in its panel. */
export function StepCard(props: StepCardProps) {
  const { step, lanes, heading, count, whole, wrong, selected, rehearsed, onOpen } = props;
  const moments = useMoments();
  const sent = step.kind === "send" && count && count.sent > 0 ? count : undefined;
  const second = detail(step, lanes, count);
  const faded = rehearsed === null;
  const shown = rehearsed === undefined ? count : undefined;
  return (
    <Box
      component="button"
      type="button"
      id={step.id}
      aria-pressed={selected}
      onClick={onOpen}
      sx={{
        display: "block",
        width: "100%",
        minHeight: 56,
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
      <Box sx={LINE}>
        <Typography variant="body2" component="span" sx={{ overflowWrap: "anywhere", minWidth: 0 }}>
          <strong>{heading?.verb ?? "Step"}</strong> {heading?.rest}
        </Typography>
        {shown && (
          <Typography
            variant="body2"
            component="span"
            sx={{ fontWeight: 600, fontVariantNumeric: "tabular-nums" }}
          >
            {number(shown.came)}
          </Typography>
        )}
      </Box>
      <Box sx={LINE}>
        {shown && sent ? (
          <Did count={sent} />
        ) : (
          <Typography
            variant="caption"
            component="span"
            color="textSecondary"
            noWrap
            title={second}
          >
            {second}
          </Typography>
        )}
        {shown && <Left count={shown} whole={whole} />}
      </Box>
      {rehearsed && (
        <Typography variant="caption" component="div" color="info" sx={{ fontWeight: 600 }}>
          {[...rehearsed.times.slice(0, 3), rehearsed.way].filter(Boolean).join(" · ")}
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
  );
}

const LINE = { display: "flex", justifyContent: "space-between", alignItems: "center", gap: 1 };

/** How an email did: one bar of those that went out, opened within it, clicked within that. */
function Did({ count }: { count: Schemas["StepCount"] }) {
  const share = (part: number) => `${Math.min(100, (100 * part) / count.sent)}%`;
  const says = [
    `about ${percent(count.opened, count.sent)} opened`,
    `${percent(count.clicked, count.sent)} clicked`,
    count.came_back > 0 && `${count.came_back} came back`,
  ]
    .filter(Boolean)
    .join(" · ");
  return (
    <Box
      component="span"
      title={`${says} of ${number(count.sent)}`}
      sx={{ display: "flex", alignItems: "center", gap: 0.75, minWidth: 0 }}
    >
      <Box
        component="span"
        aria-hidden
        sx={{ position: "relative", width: 96, height: 6, bgcolor: "divider", flexShrink: 1 }}
      >
        <Box
          component="span"
          sx={{
            position: "absolute",
            inset: 0,
            right: "auto",
            width: share(count.opened),
            bgcolor: "primary.main",
            opacity: 0.45,
          }}
        />
        <Box
          component="span"
          sx={{
            position: "absolute",
            inset: 0,
            right: "auto",
            width: share(count.clicked),
            bgcolor: "primary.main",
          }}
        />
      </Box>
      <Typography variant="caption" component="span" color="textSecondary" noWrap>
        {percent(count.clicked, count.sent)} clicked
      </Typography>
    </Box>
  );
}

/** How many left there. */
function Left({ count, whole }: { count: Schemas["StepCount"]; whole: number }) {
  const left = Object.values(count.left).reduce((sum, one) => sum + one, 0);
  if (left === 0) return null;
  return (
    <Typography
      variant="caption"
      component="span"
      color="textSecondary"
      noWrap
      title={`${number(left)} left here, of ${number(count.came)} who came (${number(whole)} began the lane)`}
    >
      −{number(left)}
    </Typography>
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
