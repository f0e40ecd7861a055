import { dayInWords, number } from "../../parts/formats";
import Button from "@mui/material/Button";
import Box from "@mui/material/Box";
import TableBody from "@mui/material/TableBody";
import TableCell from "@mui/material/TableCell";
import TableHead from "@mui/material/TableHead";
import TableRow from "@mui/material/TableRow";
import type { Schemas } from "../../api/client";
import { useState } from "react";
import { ScrollTable } from "../../parts/ScrollTable";

const FEW = 7;

/** Figures by day, the newest first. */
export function DayTable({ days }: { days: Schemas["DayFigures"][] }) {
  const [all, setAll] = useState(false);
  const newest = [...days].reverse();
  const shown = all ? newest : newest.slice(0, FEW);
  if (shown.length === 0) return null;
  const name = (day: string) =>
    dayInWords(day, { weekday: "short", day: "numeric", month: "short" });
  return (
    <Box>
      <ScrollTable sx={{ maxWidth: 720 }}>
        <TableHead>
          <TableRow>
            <TableCell>Day</TableCell>
            <TableCell align="right">Sent</TableCell>
            <TableCell align="right">Bounced</TableCell>
            <TableCell align="right">Spam</TableCell>
            <TableCell align="right">Unsubscribed</TableCell>
            <TableCell align="right">Clicked</TableCell>
          </TableRow>
        </TableHead>
        <TableBody>
          {shown.map((one) => (
            <TableRow key={one.day}>
              <TableCell>{name(one.day)}</TableCell>
              <TableCell align="right">{number(one.sent)}</TableCell>
              <TableCell align="right">{one.bounced || "–"}</TableCell>
              <TableCell align="right">{one.complained || "–"}</TableCell>
              <TableCell align="right">{one.left || "–"}</TableCell>
              <TableCell align="right">{one.clicked || "–"}</TableCell>
            </TableRow>
          ))}
        </TableBody>
      </ScrollTable>
      {newest.length > shown.length && <Button onClick={() => setAll(true)}>Show all days</Button>}
    </Box>
  );
}
