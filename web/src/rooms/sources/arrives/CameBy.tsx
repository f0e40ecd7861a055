import TableBody from "@mui/material/TableBody";
import TableCell from "@mui/material/TableCell";
import TableHead from "@mui/material/TableHead";
import TableRow from "@mui/material/TableRow";
import Typography from "@mui/material/Typography";
import { ScrollTable } from "../../../parts/ScrollTable";
import type { Schemas } from "../../../api/client";
import { mono } from "../../../theme";
import { FIELD_TYPES } from "../../fields/fieldTypes";
import type { RouteDocument } from "../routeDocument";

interface CameByProps {
  seen: Schemas["SeenQuestion"][];
  document: RouteDocument;
}

/** The names that came in lately, how often, and whether a line of the sheet reads them. */
export function CameBy({ seen, document }: CameByProps) {
  if (seen.length === 0) {
    return (
      <Typography variant="body2" color="textSecondary">
        No names received yet. They are listed here once something arrives.
      </Typography>
    );
  }
  const read = new Set(document.read_as.flatMap((one) => [one.question, ...one.also]));
  for (const one of document.consent) read.add(one.question);
  return (
    <ScrollTable size="small">
      <TableHead>
        <TableRow>
          <TableCell>Name</TableCell>
          <TableCell align="right">Came</TableCell>
          <TableCell>Typical answers</TableCell>
          <TableCell sx={{ whiteSpace: "nowrap" }}>Reads as</TableCell>
          <TableCell>On the sheet</TableCell>
        </TableRow>
      </TableHead>
      <TableBody>
        {seen.slice(0, 30).map((one) => (
          <TableRow key={one.name}>
            <TableCell sx={{ fontFamily: mono, fontSize: "0.8125rem", overflowWrap: "break-word" }}>
              {one.name}
            </TableCell>
            <TableCell align="right">{Math.round(one.share * 100)}%</TableCell>
            <TableCell sx={{ overflowWrap: "anywhere" }}>
              {one.values.slice(0, 2).join(", ").slice(0, 80) || "—"}
            </TableCell>
            <TableCell sx={{ whiteSpace: "nowrap" }}>{FIELD_TYPES[one.field_type]}</TableCell>
            <TableCell sx={{ whiteSpace: "nowrap" }}>
              {read.has(one.name) ? "read" : "not mapped"}
            </TableCell>
          </TableRow>
        ))}
      </TableBody>
    </ScrollTable>
  );
}
