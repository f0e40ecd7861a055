import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Stack from "@mui/material/Stack";
import TableBody from "@mui/material/TableBody";
import TableCell from "@mui/material/TableCell";
import TableHead from "@mui/material/TableHead";
import TableRow from "@mui/material/TableRow";
import Typography from "@mui/material/Typography";
import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { Fragment, lazy, Suspense, useState } from "react";
import { Link } from "react-router";
import { leftOutQuery, planQuery } from "../../api/broadcasts";
import type { Schemas } from "../../api/client";
import { useSlug } from "../../api/workspace";
import { Band, BandRow } from "../../parts/Band";
import { Figure } from "./Figure";
import { number } from "../../parts/formats";
import { useMoments } from "../../parts/moment";
import { Problem } from "../../parts/Problem";
import { ScrollTable } from "../../parts/ScrollTable";

const HoursChart = lazy(() => import("./HoursChart"));

interface PlanBandProps {
  broadcast: string;
  /** The document, once nobody types any more. */
  document: Schemas["BroadcastDocument"];
}

/** Who will get it, who will not and why, and when it goes. */
export function PlanBand({ broadcast, document }: PlanBandProps) {
  const workspace = useSlug();
  const moments = useMoments();
  const { data, error, isFetching } = useQuery({
    ...planQuery(workspace, broadcast, document),
    placeholderData: keepPreviousData,
  });
  const left = data?.left_out.reduce((sum, one) => sum + one.people, 0) ?? 0;
  return (
    <>
      <Band name="Before it goes" id="before" note={isFetching ? "counting …" : "now"}>
        <BandRow>
          <Problem error={error} />
          {data && (
            <Stack direction="row" spacing={4} useFlexGap sx={{ flexWrap: "wrap", mb: 1 }}>
              <Figure value={data.gets} says="will get it" />
              <Figure value={left} says={`left out, of ${number(data.people)}`} />
              {data.in_trial > 0 && <Figure value={data.in_trial} says="get a version first" />}
              {data.moved.map((one) => (
                <Figure key={one.by} value={one.people} says={one.by} />
              ))}
              {data.next_day > 0 && <Figure value={data.next_day} says="get it a day later" />}
              {data.another > 0 && (
                <Figure value={data.another} says="may get another email that day" />
              )}
            </Stack>
          )}
          {data && data.left_out.length > 0 && (
            <LeftOut broadcast={broadcast} document={document} groups={data.left_out} />
          )}
        </BandRow>
      </Band>
      <Band name="How it goes" id="goes">
        <BandRow>
          {data && data.hours.length > 0 && (
            <>
              <Suspense fallback={<Box sx={{ height: 120 }} />}>
                <HoursChart hours={data.hours} />
              </Suspense>
              <Typography variant="body2" color="textSecondary">
                Planned for each hour. It begins {moments.moment(data.begins)}
                {data.hours.length > 1 &&
                  ` and ends after ${moments.moment(data.hours.at(-1)?.hour ?? data.begins)}`}
                {data.limited && ", by the limits of an hour"}.
              </Typography>
            </>
          )}
          {data && data.hours.length === 0 && (
            <Typography color="textSecondary">Nobody gets it yet.</Typography>
          )}
        </BandRow>
      </Band>
    </>
  );
}

interface LeftOutProps {
  broadcast: string;
  document: Schemas["BroadcastDocument"];
  groups: Schemas["GroupOut"][];
}

function LeftOut({ broadcast, document, groups }: LeftOutProps) {
  const [open, setOpen] = useState<string>();
  return (
    <ScrollTable>
      <TableHead>
        <TableRow>
          <TableCell>Left out</TableCell>
          <TableCell align="right">People</TableCell>
          <TableCell />
        </TableRow>
      </TableHead>
      <TableBody>
        {groups.map((one) => {
          const key = `${one.why} ${one.about}`;
          return (
            <Fragment key={key}>
              <TableRow>
                <TableCell sx={{ overflowWrap: "anywhere" }}>
                  {one.title}
                  {one.fix && (
                    <Typography variant="body2" color="textSecondary">
                      {one.fix}
                    </Typography>
                  )}
                </TableCell>
                <TableCell align="right">{number(one.people)}</TableCell>
                <TableCell align="right">
                  <Button
                    aria-expanded={open === key}
                    aria-label={`${open === key ? "Hide" : "Show"} who is left out: ${one.title}`}
                    onClick={() => setOpen(open === key ? undefined : key)}
                  >
                    {open === key ? "Hide them" : "Show them"}
                  </Button>
                </TableCell>
              </TableRow>
              {open === key && (
                <TableRow>
                  <TableCell colSpan={3}>
                    <Those broadcast={broadcast} document={document} group={one} />
                  </TableCell>
                </TableRow>
              )}
            </Fragment>
          );
        })}
      </TableBody>
    </ScrollTable>
  );
}

function Those({
  broadcast,
  document,
  group,
}: Omit<LeftOutProps, "groups"> & { group: Schemas["GroupOut"] }) {
  const workspace = useSlug();
  const { why, about } = group;
  const { data, error } = useQuery(leftOutQuery(workspace, broadcast, { document, why, about }));
  return (
    <>
      <Problem error={error} />
      {data?.people.map((one) => (
        <Typography
          key={one.id}
          variant="body2"
          component="span"
          sx={{ mr: 2, display: "inline-block" }}
        >
          <Link to={`/w/${workspace}/people/${one.id}`}>{one.name || one.address}</Link>
        </Typography>
      ))}
      {data?.next && (
        <Typography variant="body2" color="textSecondary">
          and {number(group.people - data.people.length)} more
        </Typography>
      )}
    </>
  );
}
