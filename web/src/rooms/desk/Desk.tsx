import Typography from "@mui/material/Typography";
import { useQuery } from "@tanstack/react-query";
import { Link } from "react-router";
import { api, take } from "../../api/client";
import { useSlug } from "../../api/workspace";
import { Band, BandRow } from "../../parts/Band";
import { Loading } from "../../parts/Loading";
import { counted, times, useMoments } from "../../parts/moment";
import { Sheet } from "../../parts/Sheet";
import { Tasks } from "../../parts/Tasks";
import { CameIn, dayName } from "./CameIn";
import { FirstSteps } from "./FirstSteps";

/** The first screen: what came in, what is stuck, what goes out next. */
export function Desk() {
  const workspace = useSlug();
  const at = `/w/${workspace}`;
  const moments = useMoments();
  const { data: desk, error } = useQuery({
    queryKey: ["desk", workspace],
    queryFn: () =>
      take(api.GET("/api/workspaces/{workspace}/desk", { params: { path: { workspace } } })),
    refetchInterval: 20_000,
  });
  if (!desk) return <Loading error={error} />;
  const came = desk.sources.reduce((sum, one) => sum + one.total, 0);
  const fresh = desk.people - desk.people_before;
  return (
    <Sheet title="Desk" name="Desk">
      <FirstSteps desk={desk} />
      <Band name="Submissions" note="the last 14 days">
        <BandRow>
          <Typography sx={{ mb: 1 }}>
            {counted(came, "submission", "submissions")} ·{" "}
            {counted(fresh, "new person", "new people")} · {desk.people.toLocaleString("en-GB")}{" "}
            people in total
            {desk.waiting > 0 && ` · ${desk.waiting} not routed yet`}
          </Typography>
          {desk.sources.length > 0 && <CameIn days={desk.days} sources={desk.sources} />}
        </BandRow>
      </Band>
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
              <strong>{times(snag.times)}</strong> · {snag.sentence}{" "}
              <Link to={`${at}/snags`}>See the fix</Link>
            </Typography>
          </BandRow>
        ))}
      </Band>
      <Tasks />
      <Band name="Sending next" note="within a day">
        {desk.has_sequences && (
          <Typography variant="body2" sx={{ pl: 1.5, pb: 0.5 }}>
            <Link to={`/w/${workspace}/sequences/ahead`}>The next 30 days</Link>
            {desk.coming.length > 0 && ": "}
            {desk.coming
              .map((one) => `${dayName(one.day)} ${one.emails.toLocaleString("en-GB")}`)
              .join(" · ")}
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
