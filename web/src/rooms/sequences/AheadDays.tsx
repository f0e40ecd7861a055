import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import TableBody from "@mui/material/TableBody";
import TableCell from "@mui/material/TableCell";
import TableHead from "@mui/material/TableHead";
import TableRow from "@mui/material/TableRow";
import Typography from "@mui/material/Typography";
import { lazy, Suspense, useState } from "react";
import { Link } from "react-router";
import type { Schemas } from "../../api/client";
import { useSlug } from "../../api/workspace";
import { dayInWords, number } from "../../parts/formats";
import { ScrollTable } from "../../parts/ScrollTable";

/** Charts are loaded once there is something to draw. */
const AheadChart = lazy(() => import("./AheadChart"));

const DAY = { weekday: "short", day: "numeric", month: "short" } as const;

export interface AheadNames {
  sequence: Map<string, string>;
  message: Map<string, string>;
}

interface AheadDaysProps {
  days: Schemas["AheadDay"][];
  names: AheadNames;
}

export function totalOf(day: Schemas["AheadDay"]): number {
  return day.emails.reduce((sum, one) => sum + one.count, 0);
}

/** The days as a picture, a day of it with its messages; and all of them as a table, for whoever wants it. */
export function AheadDays({ days, names }: AheadDaysProps) {
  const first = days.findIndex((day) => totalOf(day) > 0);
  const [at, setAt] = useState(() => Math.max(0, first));
  const [asTable, setAsTable] = useState(false);
  const day = days[at];
  return (
    <>
      <Box aria-hidden sx={{ mt: 1.5, p: 1.5, bgcolor: "background.paper", minHeight: 240 }}>
        <Suspense fallback={null}>
          <AheadChart days={days} names={names.sequence} at={at} onDay={setAt} />
        </Suspense>
      </Box>
      {day && (
        <Box sx={{ display: "flex", gap: 1.5, alignItems: "baseline", flexWrap: "wrap", py: 1 }}>
          <Button disabled={at === 0} onClick={() => setAt(at - 1)}>
            Previous day
          </Button>
          <Button disabled={at === days.length - 1} onClick={() => setAt(at + 1)}>
            Next day
          </Button>
          <Typography variant="body2" role="status" component="div" sx={{ flex: 1, minWidth: 240 }}>
            <strong>{dayInWords(day.day, DAY)}</strong>{" "}
            {totalOf(day) === 0 && day.expected.length === 0 && "No emails."}
            <Which day={day} names={names} />
          </Typography>
          <Button aria-expanded={asTable} onClick={() => setAsTable(!asTable)}>
            {asTable ? "Hide the table" : "Show as a table"}
          </Button>
        </Box>
      )}
      {asTable && (
        <ScrollTable size="small" aria-label="Emails by day">
          <TableHead>
            <TableRow>
              <TableCell sx={{ width: 120 }}>Day</TableCell>
              <TableCell align="right" sx={{ width: 70 }}>
                Emails
              </TableCell>
              <TableCell>Which</TableCell>
            </TableRow>
          </TableHead>
          <TableBody>
            {days.map((one) => (
              <TableRow key={one.day}>
                <TableCell>{dayInWords(one.day, DAY)}</TableCell>
                <TableCell align="right">{number(totalOf(one))}</TableCell>
                <TableCell>
                  <Which day={one} names={names} />
                </TableCell>
              </TableRow>
            ))}
          </TableBody>
        </ScrollTable>
      )}
    </>
  );
}

/** What goes out on a day, and what is expected besides. */
function Which({ day, names }: { day: Schemas["AheadDay"]; names: AheadNames }) {
  const workspace = useSlug();
  const message = (id: string) => names.message.get(id) ?? "a message that is gone";
  return (
    <>
      {day.emails.map((one, index) => (
        <span key={one.sequence + one.message}>
          {index > 0 && " · "}
          <Link to={`/w/${workspace}/sequences/${one.sequence}`}>{message(one.message)}</Link>{" "}
          {number(one.count)}
        </span>
      ))}
      {day.expected.length > 0 && (
        <Typography component="span" variant="body2" color="textSecondary">
          {day.emails.length > 0 && " · "}
          {day.expected
            .map((one) => `${message(one.message)} about ${number(one.count)}`)
            .join(" · ")}
        </Typography>
      )}
    </>
  );
}
