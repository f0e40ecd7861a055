import Box from "@mui/material/Box";
import LinearProgress from "@mui/material/LinearProgress";
import Typography from "@mui/material/Typography";
import { Link } from "react-router";
import type { Schemas } from "../../api/client";
import { useSlug } from "../../api/workspace";
import { Band, BandRow } from "../../parts/Band";
import { counted, number } from "../../parts/formats";
import { percent } from "../../parts/share";
import { Figure } from "./Figure";

type Progress = Schemas["ProgressOut"];

/** Live progress, and what came of it. */
export function Going({ progress }: { progress: Progress }) {
  const { sent, waiting, later, under_way, unknown, held, refused } = progress;
  const all = sent + waiting + under_way + unknown + held + refused;
  const share = (count: number) => (sent ? percent(count, sent) : "none");
  const notes = [
    under_way > 0 && `${number(under_way)} in the hands of the mail server`,
    later > 0 && `${number(later)} not before a later time`,
    held > 0 && `${number(held)} held: see Snags`,
    unknown > 0 && `${number(unknown)} may have gone out: see Snags`,
    refused > 0 && `${number(refused)} refused by the mail server`,
    progress.per_hour && waiting > later && `${number(progress.per_hour)} an hour`,
    progress.seconds_left && `about ${timeLeft(progress.seconds_left)} left`,
  ].filter(Boolean);
  return (
    <Band name="How it goes">
      <BandRow>
        <Typography sx={{ mb: 1 }} role="status">
          {number(sent)} of {number(all)} sent{notes.length > 0 && ` · ${notes.join(" · ")}`}
        </Typography>
        {sent < all && (
          <LinearProgress
            variant="determinate"
            value={(100 * sent) / all}
            aria-label={`${percent(sent, all)} sent`}
            sx={{ mb: 2 }}
          />
        )}
        <Box
          sx={{
            display: "grid",
            gap: 2,
            gridTemplateColumns: "repeat(auto-fit, minmax(min(104px, 40%), 1fr))",
          }}
        >
          {progress.counts_opens && (
            <Figure
              value={share(progress.opened)}
              says={`opened, about ${number(progress.opened)}`}
            />
          )}
          <Figure value={share(progress.clicked)} says={`clicked, ${number(progress.clicked)}`} />
          <Figure value={share(progress.left)} says={`unsubscribed, ${number(progress.left)}`} />
          <Figure value={share(progress.bounced)} says={`bounced, ${number(progress.bounced)}`} />
          <Figure
            value={share(progress.complained)}
            says={`complained, ${number(progress.complained)}`}
          />
        </Box>
      </BandRow>
    </Band>
  );
}

function timeLeft(seconds: number): string {
  const minutes = Math.max(1, Math.round(seconds / 60));
  return minutes < 120
    ? counted(minutes, "minute", "minutes")
    : counted(Math.round(minutes / 60), "hour", "hours");
}

/** Who did not get it, and why. */
export function NotGot({ progress }: { progress: Progress }) {
  const workspace = useSlug();
  const rows = [...progress.left_out, ...progress.withdrawn];
  if (rows.length === 0) return null;
  return (
    <Band name="Did not get it">
      <BandRow>
        {rows.map((one) => (
          <Typography key={one.why} variant="body2" sx={{ overflowWrap: "anywhere" }}>
            {number(one.people)} · {one.why}
          </Typography>
        ))}
        {progress.held + progress.unknown > 0 && <Link to={`/w/${workspace}/snags`}>Snags</Link>}
      </BandRow>
    </Band>
  );
}
