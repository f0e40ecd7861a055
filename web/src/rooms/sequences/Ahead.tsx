import { counted, dayInWords, number } from "../../parts/formats";
import { useAttempt } from "../../api/useAttempt";
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import TableBody from "@mui/material/TableBody";
import TableCell from "@mui/material/TableCell";
import TableHead from "@mui/material/TableHead";
import TableRow from "@mui/material/TableRow";
import Typography from "@mui/material/Typography";
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { Link } from "react-router";
import { aheadQuery } from "../../api/sequences";
import { api, take, type Schemas } from "../../api/client";
import { useCatalogue, useSlug } from "../../api/workspace";
import { Band, BandRow } from "../../parts/Band";
import { Empty } from "../../parts/Empty";
import { Loading } from "../../parts/Loading";
import { useMoments } from "../../parts/moment";
import { Problem } from "../../parts/Problem";
import { ScrollTable } from "../../parts/ScrollTable";
import { Sheet } from "../../parts/Sheet";

const DAY = { weekday: "short", day: "numeric", month: "short" } as const;

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
    refetchInterval: asked ? 2_000 : 30_000,
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
  const most = Math.max(1, ...data.days.map(totalOf));
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
          <ScrollTable size="small" sx={{ mt: 1 }} aria-label="Emails by day">
            <TableHead>
              <TableRow>
                <TableCell sx={{ width: 120 }}>Day</TableCell>
                <TableCell align="right" sx={{ width: 70 }}>
                  Emails
                </TableCell>
                <TableCell sx={{ width: 160 }} />
                <TableCell>Which</TableCell>
              </TableRow>
            </TableHead>
            <TableBody>
              {data.days.map((day) => (
                <TableRow key={day.day}>
                  <TableCell>{dayInWords(day.day, DAY)}</TableCell>
                  <TableCell align="right">{number(totalOf(day))}</TableCell>
                  <TableCell>
                    <Box aria-hidden sx={{ height: 8, bgcolor: "divider" }}>
                      <Box
                        sx={{
                          height: 8,
                          width: `${(100 * totalOf(day)) / most}%`,
                          bgcolor: "primary.main",
                        }}
                      />
                    </Box>
                  </TableCell>
                  <TableCell>
                    {day.emails.map((one, index) => (
                      <span key={one.sequence + one.message}>
                        {index > 0 && " · "}
                        <Link to={`/w/${workspace}/sequences/${one.sequence}`}>
                          {names.message.get(one.message) ?? "a message that is gone"}
                        </Link>{" "}
                        {number(one.count)}
                      </span>
                    ))}
                    {day.expected.length > 0 && (
                      <Typography component="span" variant="body2" color="textSecondary">
                        {day.emails.length > 0 && " · "}
                        {day.expected
                          .map(
                            (one) =>
                              `${names.message.get(one.message) ?? "a message that is gone"} about ${number(one.count)}`,
                          )
                          .join(" · ")}
                      </Typography>
                    )}
                  </TableCell>
                </TableRow>
              ))}
            </TableBody>
          </ScrollTable>
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

function totalOf(day: Schemas["AheadDay"]): number {
  return day.emails.reduce((sum, one) => sum + one.count, 0);
}
