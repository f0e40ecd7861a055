import { dayInWords, number } from "../../parts/formats";
import Box from "@mui/material/Box";
import TableBody from "@mui/material/TableBody";
import TableCell from "@mui/material/TableCell";
import TableHead from "@mui/material/TableHead";
import TableRow from "@mui/material/TableRow";
import Tooltip from "@mui/material/Tooltip";
import { Link } from "react-router";
import type { Schemas } from "../../api/client";
import { useSlug } from "../../api/workspace";
import { ScrollTable } from "../../parts/ScrollTable";

interface CameInProps {
  days: string[];
  sources: Schemas["SourceDays"][];
}

/** What came in by source: a bar for each day, all on one base, and the total. */
export function CameIn({ days, sources }: CameInProps) {
  const workspace = useSlug();
  const most = Math.max(1, ...sources.flatMap((one) => one.days));
  return (
    <ScrollTable size="small" sx={{ maxWidth: 640, "& td": { height: 32, py: 0.25 } }}>
      <TableHead>
        <TableRow>
          <TableCell>Source</TableCell>
          <TableCell>
            {days[0] && dayName(days[0])} to {dayName(days[days.length - 1] ?? "")}
          </TableCell>
          <TableCell align="right">Total</TableCell>
        </TableRow>
      </TableHead>
      <TableBody>
        {sources.map((one) => (
          <TableRow key={one.source}>
            <TableCell>
              <Link to={`/w/${workspace}/sources/${one.source}`}>{one.name}</Link>
            </TableCell>
            <TableCell>
              <Bars days={days} counts={one.days} most={most} name={one.name} />
            </TableCell>
            <TableCell align="right" sx={{ fontWeight: 600 }}>
              {number(one.total)}
            </TableCell>
          </TableRow>
        ))}
      </TableBody>
    </ScrollTable>
  );
}

const WIDE = 8;
const HIGH = 24;

interface BarsProps {
  days: string[];
  counts: number[];
  most: number;
  name: string;
}

/** A bar for each day; the counts are told where the pointer or the keyboard is. */
function Bars({ days, counts, most, name }: BarsProps) {
  const sentence = counts
    .map((count, index) => [dayName(days[index] ?? ""), count] as const)
    .filter(([, count]) => count > 0)
    .map(([day, count]) => `${day}: ${number(count)}`)
    .join(" · ");
  return (
    <Tooltip title={sentence} placement="top">
      <Box
        role="img"
        tabIndex={0}
        aria-label={`${name} by day: ${sentence}`}
        sx={{ display: "inline-flex", alignItems: "flex-end", gap: "3px", height: HIGH }}
      >
        {counts.map((count, index) => (
          <Box
            key={days[index]}
            sx={{
              width: WIDE,
              // A day with nothing still has its place on the base.
              height: count ? Math.max(3, Math.round((count / most) * HIGH)) : "1px",
              bgcolor: count ? "primary.main" : "divider",
            }}
          />
        ))}
      </Box>
    </Tooltip>
  );
}

/** The day of the month, with its month. */
export function dayName(day: string): string {
  return dayInWords(day, { day: "numeric", month: "short" });
}
