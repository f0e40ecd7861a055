import { number } from "../../parts/formats";
import type { Schemas } from "../../api/client";
import Button from "@mui/material/Button";
import TableBody from "@mui/material/TableBody";
import TableCell from "@mui/material/TableCell";
import TableHead from "@mui/material/TableHead";
import TableRow from "@mui/material/TableRow";
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { Link } from "react-router";
import { sourcesQuery } from "../../api/sources";
import { useMayChange, useSlug } from "../../api/workspace";
import { Failed } from "../../parts/Attention";
import { Empty } from "../../parts/Empty";
import { Loading } from "../../parts/Loading";
import { ScrollTable } from "../../parts/ScrollTable";
import { useMoments } from "../../parts/moment";
import { Sheet } from "../../parts/Sheet";
import { SortCell, useSorting } from "../../parts/sorting";
import { StateWord } from "../../parts/StateWord";
import { KINDS } from "./kinds";
import { NewSource } from "./NewSource";

type Source = Schemas["SourceLine"];

const COLUMNS = {
  name: (one: Source) => one.name,
  kind: (one: Source) => KINDS[one.kind].name,
  state: (one: Source) => one.state,
  week: (one: Source) => one.this_week,
  total: (one: Source) => one.arrived,
  latest: (one: Source) => one.last_at,
};

/** Where submissions come from. */
export function Sources() {
  const workspace = useSlug();
  const [asking, setAsking] = useState(false);
  const moments = useMoments();
  const mayChange = useMayChange();
  const { data: sources, error } = useQuery(sourcesQuery(workspace));
  const sorting = useSorting(sources ?? [], COLUMNS, "name");
  if (!sources) return <Loading error={error} />;
  const button = mayChange && (
    <Button variant="contained" onClick={() => setAsking(true)}>
      New source
    </Button>
  );
  return (
    <Sheet
      title="Sources"
      name="Sources"
      actions={
        sources.length > 0 && (
          <>
            <Link to={`/w/${workspace}/submissions`}>All submissions</Link>
            {button}
          </>
        )
      }
    >
      {sources.length === 0 ? (
        <Empty says="A source is where people leave their details: a form, a file of rows, a sheet that grows, another program. Each has one sheet that says what happens to what comes in, down to the last email.">
          {button}
        </Empty>
      ) : (
        <ScrollTable onPaper>
          <TableHead>
            <TableRow>
              <SortCell by="name" sorting={sorting}>
                Source
              </SortCell>
              <SortCell by="kind" sorting={sorting}>
                Kind
              </SortCell>
              <SortCell by="state" sorting={sorting}>
                State
              </SortCell>
              <SortCell by="week" sorting={sorting} align="right">
                This week
              </SortCell>
              <SortCell by="total" sorting={sorting} align="right">
                Total
              </SortCell>
              <SortCell by="latest" sorting={sorting}>
                Latest submission
              </SortCell>
            </TableRow>
          </TableHead>
          <TableBody>
            {sorting.rows.map((one) => (
              <TableRow key={one.id}>
                <TableCell>
                  <Link to={one.id}>{one.name}</Link>
                  <Failed times={one.attention} />
                </TableCell>
                <TableCell>{KINDS[one.kind].name}</TableCell>
                <TableCell>
                  <StateWord state={one.state} />
                </TableCell>
                <TableCell align="right">{number(one.this_week)}</TableCell>
                <TableCell align="right">{number(one.arrived)}</TableCell>
                <TableCell>{one.last_at ? moments.moment(one.last_at) : "nothing yet"}</TableCell>
              </TableRow>
            ))}
          </TableBody>
        </ScrollTable>
      )}
      {asking && <NewSource onClose={() => setAsking(false)} />}
    </Sheet>
  );
}
