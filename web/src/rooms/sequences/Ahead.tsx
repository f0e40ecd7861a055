import { follows } from "../../api/stream";
import { counted } from "../../parts/formats";
import { useAttempt } from "../../api/useAttempt";
import Button from "@mui/material/Button";
import Typography from "@mui/material/Typography";
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { Link } from "react-router";
import { aheadQuery } from "../../api/sequences";
import { api, take } from "../../api/client";
import { useCatalogue, useSlug } from "../../api/workspace";
import { Band, BandRow } from "../../parts/Band";
import { Empty } from "../../parts/Empty";
import { Loading } from "../../parts/Loading";
import { useMoments } from "../../parts/moment";
import { Problem } from "../../parts/Problem";
import { Sheet } from "../../parts/Sheet";
import { AheadDays, totalOf } from "./AheadDays";

/** What will go out in the next thirty days, if nothing happens meanwhile. */
export function Ahead() {
  const workspace = useSlug();
  const moments = useMoments();
  const { data: catalogue } = useCatalogue();
  const [asked, setAsked] = useState(false);
  const { attempt, failed } = useAttempt();
  const params = { path: { workspace } };
  const { data, error } = useQuery({
    ...aheadQuery(workspace),
    ...follows(["runs"], asked ? 2_000 : 30_000),
  });
  if (!data || !catalogue) return <Loading error={error} />;
  const again = async () => {
    await attempt(async () => {
      await take(api.POST("/api/workspaces/{workspace}/ahead", { params }));
      setAsked(true);
    });
  };
  const button = (
    <Button variant="outlined" onClick={() => void again()}>
      Refresh
    </Button>
  );
  const all = data.days.reduce((sum, one) => sum + totalOf(one), 0);
  const names = {
    sequence: new Map(catalogue.sequences.map((one) => [one.id, one.name])),
    message: new Map(catalogue.messages.map((one) => [one.id, one.name])),
  };
  return (
    <Sheet
      title="The next 30 days"
      name="The next 30 days"
      back={{ to: `/w/${workspace}/sequences`, label: "Sequences" }}
      state={
        data.made_at && (
          <Typography variant="body2" color="textSecondary" role="status">
            {counted(all, "email", "emails")} to {counted(data.people, "person", "people")} in
            progress · as of {moments.moment(data.made_at)}
          </Typography>
        )
      }
      actions={data.made_at && button}
    >
      <Problem error={failed} />
      {!data.made_at ? (
        <Empty
          says={
            asked
              ? "Working out the next days. They appear here in a moment."
              : "This page shows what will go out in the next 30 days to everybody in progress, by the same rules that run live."
          }
        >
          {button}
        </Empty>
      ) : (
        <>
          <AheadDays days={data.days} names={names} />
          {data.days.some((day) => day.expected.length > 0) && (
            <Typography variant="body2" color="textSecondary" sx={{ py: 1 }}>
              “About” is a forecast: emails that ask new people to confirm, as many as on the same
              weekday of the last four weeks. They are not part of the totals.
            </Typography>
          )}
          <Band name="Moved" note="to a later time">
            <BandRow>
              {data.moved.length === 0
                ? "No email is moved."
                : data.moved
                    .map((one) => `${counted(one.count, "email", "emails")}: ${one.why}`)
                    .join(" · ")}
            </BandRow>
          </Band>
          <Band name="Several in a week" note="three or more within seven days">
            <BandRow>
              {data.many_total === 0 && "Nobody gets three emails within a week."}
              {data.many.map((one) => (
                <Typography key={one.person} variant="body2">
                  <Link to={`/w/${workspace}/people/${one.person}`}>{one.name}</Link> gets{" "}
                  {counted(one.emails, "email", "emails")} from {moments.moment(one.first_at)}
                </Typography>
              ))}
              {data.many_total > data.many.length && (
                <Typography variant="body2" color="textSecondary">
                  and {counted(data.many_total - data.many.length, "other", "others")}
                </Typography>
              )}
            </BandRow>
          </Band>
        </>
      )}
    </Sheet>
  );
}
