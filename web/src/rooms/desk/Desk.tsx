import { follows } from "../../api/stream";
import { counted, number, plural, times } from "../../parts/formats";
import Box from "@mui/material/Box";
import Typography from "@mui/material/Typography";
import { useQuery } from "@tanstack/react-query";
import { Link } from "react-router";
import { deskQuery } from "../../api/desk";
import { useSlug } from "../../api/workspace";
import { Band, BandRow } from "../../parts/Band";
import { Loading } from "../../parts/Loading";
import { useMoments } from "../../parts/moment";
import { Sheet } from "../../parts/Sheet";
import { Tasks } from "../../parts/Tasks";
import { CameIn, dayName } from "./CameIn";
import { FirstSteps } from "./FirstSteps";

/** The first screen: what needs attention, what came in, what is to do, what goes out next. */
export function Desk() {
  const workspace = useSlug();
  const at = `/w/${workspace}`;
  const moments = useMoments();
  const { data: desk, error } = useQuery({
    ...deskQuery(workspace),
    ...follows(["submissions", "snags", "people", "runs"], 10_000),
  });
  if (!desk) return <Loading error={error} />;
  const came = desk.sources.reduce((sum, one) => sum + one.total, 0);
  const fresh = desk.people - desk.people_before;
  const coming = desk.coming.reduce((sum, one) => sum + one.emails, 0);
  return (
    <Sheet title="Desk" name="Desk">
      <FirstSteps desk={desk} />
      <Band
        name="Needs attention"
        note={
          desk.snags.length
            ? counted(desk.snags.length, "cause", "causes")
            : desk.held
              ? `${desk.held} held`
              : "nothing"
        }
      >
        {desk.snags.length === 0 && desk.held === 0 && <BandRow>Nothing needs attention.</BandRow>}
        {desk.held > 0 && (
          <BandRow>
            <Typography variant="body2">
              <strong>{counted(desk.held, "submission", "submissions")}</strong> held for review ·{" "}
              <Link to={`${at}/submissions?state=held`}>See why, and let them through</Link>
            </Typography>
          </BandRow>
        )}
        {desk.snags.map((snag, index) => (
          <BandRow key={snag.id} ruled={index > 0}>
            <Typography variant="body2">
              {snag.times > 1 && <strong>{times(snag.times)} · </strong>}
              {snag.sentence} <Link to={`${at}/snags`}>See the fix</Link>
            </Typography>
          </BandRow>
        ))}
      </Band>
      <Band name="Submissions" note="the last 14 days">
        <BandRow>
          <Box sx={{ display: "flex", flexWrap: "wrap", gap: 1.5, columnGap: 5, mb: 1.5 }}>
            <Figure count={came} label={plural(came, "submission", "submissions")} />
            <Figure count={fresh} label={plural(fresh, "new person", "new people")} />
            <Figure count={desk.people} label="people in total" />
            {desk.coming.length > 0 && <Figure count={coming} label="emails in the next 7 days" />}
          </Box>
          {desk.waiting > 0 && (
            <Typography variant="body2" sx={{ mb: 1 }}>
              {counted(desk.waiting, "submission is", "submissions are")} not routed yet.
            </Typography>
          )}
          {desk.sources.length > 0 && <CameIn days={desk.days} sources={desk.sources} />}
        </BandRow>
      </Band>
      <Tasks />
      <Band name="Sending next" note="within a day">
        {desk.has_sequences && (
          <Typography variant="body2" sx={{ pl: 1.5, pb: 0.5 }}>
            <Link to={`/w/${workspace}/sequences/ahead`}>The next 30 days</Link>
            {desk.coming.length > 0 && ": "}
            {desk.coming.map((one) => `${dayName(one.day)} ${number(one.emails)}`).join(" · ")}
            {desk.coming.length > 0 && " emails"}
          </Typography>
        )}
        {desk.next.length === 0 && <BandRow>Nobody is due within a day.</BandRow>}
        {desk.next.map((one, index) => (
          <BandRow key={one.sequence} ruled={index > 0}>
            <Typography variant="body2">
              <Link to={`${at}/sequences/${one.sequence}`}>{one.name}</Link>:{" "}
              {counted(one.count, "person goes on", "people go on")}, the first{" "}
              {moments.moment(one.first_at)}
            </Typography>
          </BandRow>
        ))}
      </Band>
    </Sheet>
  );
}

function Figure({ count, label }: { count: number; label: string }) {
  return (
    <Box>
      <Typography sx={{ fontSize: 28, fontWeight: 600, lineHeight: 1.2 }}>
        {number(count)}
      </Typography>
      <Typography variant="caption" color="textSecondary">
        {label}
      </Typography>
    </Box>
  );
}
