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
import { StateWord } from "../../parts/StateWord";
import { KINDS } from "./kinds";
import { NewSource } from "./NewSource";

/** Where submissions come from. */
export function Sources() {
  const workspace = useSlug();
  const [asking, setAsking] = useState(false);
  const moments = useMoments();
  const mayChange = useMayChange();
  const { data: sources, error } = useQuery(sourcesQuery(workspace));
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
        <ScrollTable sx={{ mt: 1 }}>
          <TableHead>
            <TableRow>
              <TableCell>Source</TableCell>
              <TableCell>Kind</TableCell>
              <TableCell>State</TableCell>
              <TableCell align="right">This week</TableCell>
              <TableCell align="right">Total</TableCell>
              <TableCell>Latest submission</TableCell>
            </TableRow>
          </TableHead>
          <TableBody>
            {sources.map((one) => (
              <TableRow key={one.id}>
                <TableCell>
                  <Link to={one.id}>{one.name}</Link>
                  <Failed times={one.attention} />
                </TableCell>
                <TableCell>{KINDS[one.kind].name}</TableCell>
                <TableCell>
                  <StateWord state={one.state} />
                </TableCell>
                <TableCell align="right">{one.this_week.toLocaleString("en-GB")}</TableCell>
                <TableCell align="right">{one.arrived.toLocaleString("en-GB")}</TableCell>
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
