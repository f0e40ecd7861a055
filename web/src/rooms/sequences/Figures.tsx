import { DateBox } from "../../parts/dates/DateBox";
import { dayInWords, number } from "../../parts/formats";
import MenuItem from "@mui/material/MenuItem";
import Stack from "@mui/material/Stack";
import TableBody from "@mui/material/TableBody";
import TableCell from "@mui/material/TableCell";
import TableHead from "@mui/material/TableHead";
import TableRow from "@mui/material/TableRow";
import TextField from "@mui/material/TextField";
import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { figuresQuery } from "../../api/sequences";
import { type Schemas } from "../../api/client";
import { useSlug } from "../../api/workspace";
import { Band, BandRow } from "../../parts/Band";
import { Problem } from "../../parts/Problem";
import { ScrollTable } from "../../parts/ScrollTable";
import { type SequenceDocument } from "./sequenceDocument";

interface FiguresProps {
  sequence: string;
  document: SequenceDocument;
  words: Record<string, string>;
  routes: Schemas["DoorOut"][];
}

const MONTH = { month: "long", year: "numeric" } as const;

type By = "by_month" | "by_door" | "by_source";

/** How it goes: goal rates with their denominators, between two dates of entry. */
export function Figures({ sequence, document, words }: FiguresProps) {
  const workspace = useSlug();
  const [by, setBy] = useState<By>("by_month");
  const [since, setSince] = useState("");
  const [until, setUntil] = useState("");
  const { data, error } = useQuery({
    ...figuresQuery(workspace, sequence, since, until),
    placeholderData: keepPreviousData,
  });
  const named = (group: string) => {
    if (by === "by_month") return dayInWords(`${group}-01`, MONTH);
    if (by === "by_source") return group || "not by a source";
    return words[group] ?? (group ? "a door that is gone" : "a form or another source, or by hand");
  };
  const rows = data ? [...data[by], { ...data.goal, group: "Total" }] : [];
  return (
    <Band name="How it goes" note={document.goals.length ? "" : "no goal yet"}>
      <BandRow>
        <Problem error={error} />
        <Stack direction="row" useFlexGap spacing={1} sx={{ flexWrap: "wrap", py: 1 }}>
          <TextField
            select
            label="By"
            value={by}
            onChange={(event) => setBy(event.target.value as By)}
            sx={{ width: 180 }}
          >
            <MenuItem value="by_month">Month of entry</MenuItem>
            <MenuItem value="by_door">Door</MenuItem>
            <MenuItem value="by_source">Source</MenuItem>
          </TextField>
          {(
            [
              ["Entered from", since, setSince],
              ["Entered before", until, setUntil],
            ] as const
          ).map(([label, value, set]) => (
            <DateBox
              key={label}
              kind="date"
              label={label}
              value={value}
              onChange={set}
              sx={{ width: 180 }}
            />
          ))}
        </Stack>
        <ScrollTable size="small" sx={{ maxWidth: 640 }}>
          <TableHead>
            <TableRow>
              <TableCell>
                {by === "by_month" ? "Month" : by === "by_door" ? "Door" : "Source"}
              </TableCell>
              <TableCell align="right">Entered</TableCell>
              <TableCell align="right">Reached the goal</TableCell>
              <TableCell align="right">Rate</TableCell>
              <TableCell align="right">Days to goal (median)</TableCell>
            </TableRow>
          </TableHead>
          <TableBody>
            {rows.map((one) => (
              <TableRow
                key={one.group}
                sx={one.group === "Total" ? { "& td": { fontWeight: 600 } } : {}}
              >
                <TableCell>{one.group === "Total" ? "Total" : named(one.group)}</TableCell>
                <TableCell align="right">{number(one.entered)}</TableCell>
                <TableCell align="right">{number(one.reached)}</TableCell>
                <TableCell align="right">
                  {one.entered ? `${number((100 * one.reached) / one.entered, 1)}%` : "—"}
                </TableCell>
                <TableCell align="right">
                  {one.median_days === null ? "—" : number(one.median_days, 1)}
                </TableCell>
              </TableRow>
            ))}
          </TableBody>
        </ScrollTable>
      </BandRow>
    </Band>
  );
}
