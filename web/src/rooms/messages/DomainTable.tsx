import { number } from "../../parts/formats";
import TableBody from "@mui/material/TableBody";
import TableCell from "@mui/material/TableCell";
import TableHead from "@mui/material/TableHead";
import TableRow from "@mui/material/TableRow";
import Typography from "@mui/material/Typography";
import type { Schemas } from "../../api/client";
import { shareOf } from "../../parts/share";
import { ScrollTable } from "../../parts/ScrollTable";

/** Figures by receiving domain, the largest first. */
export function DomainTable({ domains }: { domains: Schemas["DomainFigures"][] }) {
  if (domains.length === 0) return null;
  return (
    <ScrollTable sx={{ mt: 1, maxWidth: 1120 }}>
      <TableHead>
        <TableRow>
          <TableCell>Receiving domain</TableCell>
          <TableCell align="right">Sent</TableCell>
          <TableCell align="right">Bounced</TableCell>
          <TableCell align="right">Refused</TableCell>
          <TableCell align="right">Waiting</TableCell>
          <TableCell align="right">Spam</TableCell>
          <TableCell align="right">Clicked</TableCell>
        </TableRow>
      </TableHead>
      <TableBody>
        {domains.map((one) => (
          <TableRow key={one.domain}>
            <TableCell>
              {one.domain || "not known"}
              {one.reasons.map((reason) => (
                <Typography key={reason} variant="caption" component="div" color="textSecondary">
                  {reason}
                </Typography>
              ))}
            </TableCell>
            <TableCell align="right">{number(one.sent)}</TableCell>
            <TableCell align="right">
              {one.bounced ? shareOf(one.bounced, one.sent) : "–"}
            </TableCell>
            <TableCell align="right">{one.refused || "–"}</TableCell>
            <TableCell align="right">{one.deferred || "–"}</TableCell>
            <TableCell align="right">{one.complained || "–"}</TableCell>
            <TableCell align="right">{one.clicked || "–"}</TableCell>
          </TableRow>
        ))}
      </TableBody>
    </ScrollTable>
  );
}
