import { counted } from "../../parts/formats";
import { rehearseQuery } from "../../api/replays";
import Button from "@mui/material/Button";
import Checkbox from "@mui/material/Checkbox";
import FormControlLabel from "@mui/material/FormControlLabel";
import TableBody from "@mui/material/TableBody";
import TableCell from "@mui/material/TableCell";
import TableHead from "@mui/material/TableHead";
import TableRow from "@mui/material/TableRow";
import Typography from "@mui/material/Typography";
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { Link, useParams } from "react-router";
import { useSlug } from "../../api/workspace";
import { Empty } from "../../parts/Empty";
import { Loading } from "../../parts/Loading";
import { ScrollTable } from "../../parts/ScrollTable";
import { useMoments } from "../../parts/moment";
import { Sheet } from "../../parts/Sheet";
import { RouteState } from "../sources/RouteState";
import { useSource } from "../sources/useSource";
import { EffectWords } from "./EffectWords";

const MOST = 100;

/** What the sheet as it stands would make of the last submissions, before it is turned on. */
export function Rehearsal() {
  const workspace = useSlug();
  const { source: id = "" } = useParams();
  const moments = useMoments();
  const [onlyOther, setOnlyOther] = useState(false);
  const [all, setAll] = useState(false);
  const { data: source, error } = useSource(id);
  const document = source?.document;
  const rehearsal = useQuery(rehearseQuery(workspace, id, source?.edits, document));
  if (!source || !rehearsal.data) return <Loading error={error ?? rehearsal.error} />;
  const { lines, people, stuck, different } = rehearsal.data;
  const fitting = lines.filter((one) => !onlyOther || one.effects.length > 0);
  const shown = all ? fitting : fitting.slice(0, MOST);
  const at = `/w/${workspace}`;
  return (
    <Sheet
      title="Rehearsal"
      name={`Rehearsal of ${source.name}`}
      back={{ to: `${at}/sources/${id}`, label: source.name }}
      state={<RouteState source={source} />}
    >
      {lines.length === 0 ? (
        <Empty says="Nothing has come in yet, so there is nothing to rehearse with. The sample on the sheet takes answers that you type." />
      ) : (
        <>
          <Typography sx={{ pt: 1.5 }}>
            With the last {counted(lines.length, "submission", "submissions")}, this sheet gives{" "}
            {counted(people, "person", "people")}
            {stuck > 0 && (
              <Typography component="strong" color="error">
                {" "}
                and leaves {stuck} stuck
              </Typography>
            )}
            .{" "}
            {different === 0
              ? "Nothing differs from what was done"
              : `${different} differ from what was done`}
            . Nothing is kept by a rehearsal.
          </Typography>
          <FormControlLabel
            control={
              <Checkbox
                size="small"
                checked={onlyOther}
                onChange={(event) => setOnlyOther(event.target.checked)}
              />
            }
            label="Only those that differ"
          />
          <ScrollTable size="small">
            <TableHead>
              <TableRow>
                <TableCell>Received</TableCell>
                <TableCell>Person</TableCell>
                <TableCell>What this sheet makes of it</TableCell>
                <TableCell sx={{ width: 260 }}>What differs from what was done</TableCell>
              </TableRow>
            </TableHead>
            <TableBody>
              {shown.map((one) => (
                <TableRow key={one.submission} sx={{ verticalAlign: "top" }}>
                  <TableCell sx={{ whiteSpace: "nowrap" }}>
                    <Link to={`${at}/submissions/${one.submission}`}>
                      {moments.moment(one.received_at)}
                    </Link>
                  </TableCell>
                  <TableCell sx={{ minWidth: 200, overflowWrap: "anywhere" }}>
                    {one.person ? (
                      <Link to={`${at}/people/${one.person}`}>{one.address}</Link>
                    ) : (
                      one.address || "nobody"
                    )}
                  </TableCell>
                  <TableCell>
                    <Typography
                      variant="body2"
                      color={one.outcomes.length ? undefined : "textSecondary"}
                    >
                      {one.outcomes.join(" · ") || (one.address ? "nothing new" : "nobody")}
                    </Typography>
                    {one.problems.map((problem) => (
                      <Typography key={problem} variant="body2" color="error">
                        {problem}
                      </Typography>
                    ))}
                  </TableCell>
                  <TableCell>
                    {one.effects.length ? <EffectWords effects={one.effects} /> : "—"}
                  </TableCell>
                </TableRow>
              ))}
            </TableBody>
          </ScrollTable>
          {shown.length < fitting.length && (
            <Button variant="outlined" sx={{ mt: 2 }} onClick={() => setAll(true)}>
              Show all {fitting.length}
            </Button>
          )}
        </>
      )}
    </Sheet>
  );
}
