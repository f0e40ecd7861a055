import Box from "@mui/material/Box";
import TableBody from "@mui/material/TableBody";
import TableCell from "@mui/material/TableCell";
import TableHead from "@mui/material/TableHead";
import TableRow from "@mui/material/TableRow";
import { Link } from "react-router";
import { ScrollTable } from "../../parts/ScrollTable";
import type { Schemas } from "../../api/client";
import { useSlug } from "../../api/workspace";

interface CameInProps {
  days: string[];
  sources: Schemas["SourceDays"][];
}

/** What came in by source and day: a figure for each day, with a bar of its height below. */
export function CameIn({ days, sources }: CameInProps) {
  const workspace = useSlug();
  const most = Math.max(1, ...sources.flatMap((one) => one.days));
  return (
    <ScrollTable size="small">
      <TableHead>
        <TableRow>
          <TableCell>Source</TableCell>
          {days.map((day) => (
            <TableCell key={day} align="center" sx={{ px: 0.5 }}>
              {dayName(day)}
            </TableCell>
          ))}
          <TableCell align="right" sx={{ pl: 2 }}>
            Total
          </TableCell>
        </TableRow>
      </TableHead>
      <TableBody>
        {sources.map((one) => (
          <TableRow key={one.source}>
            <TableCell sx={{ py: 0.25, whiteSpace: "nowrap" }}>
              <Link to={`/w/${workspace}/sources/${one.source}`}>{one.name}</Link>
            </TableCell>
            {one.days.map((count, index) => (
              <TableCell
                key={days[index]}
                align="center"
                sx={{ px: 0.5, py: 0.25, verticalAlign: "bottom", lineHeight: 1.3 }}
              >
                <Box
                  aria-hidden
                  sx={{
                    height: Math.round((count / most) * 16),
                    width: 14,
                    mx: "auto",
                    bgcolor: "primary.main",
                    mb: 0,
                  }}
                />
                {count || "–"}
              </TableCell>
            ))}
            <TableCell align="right" sx={{ verticalAlign: "bottom", fontWeight: 600 }}>
              {one.total}
            </TableCell>
          </TableRow>
        ))}
      </TableBody>
    </ScrollTable>
  );
}

/** The day of the month, with the month where it begins or the table does. */
export function dayName(day: string): string {
  return new Date(`${day}T12:00:00Z`).toLocaleDateString("en-GB", {
    day: "numeric",
    month: "short",
    timeZone: "UTC",
  });
}
