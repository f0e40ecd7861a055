import { counted, number } from "../../parts/formats";
import Button from "@mui/material/Button";
import TableBody from "@mui/material/TableBody";
import TableCell from "@mui/material/TableCell";
import TableHead from "@mui/material/TableHead";
import TableRow from "@mui/material/TableRow";
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { Link, useNavigate } from "react-router";
import { sequencesQuery } from "../../api/sequences";
import { api, take, type Schemas } from "../../api/client";
import { useMayChange, useReload, useSlug } from "../../api/workspace";
import { Attention, Failed } from "../../parts/Attention";
import { Empty } from "../../parts/Empty";
import { Loading } from "../../parts/Loading";
import { NameDialog } from "../../parts/NameDialog";
import { ScrollTable } from "../../parts/ScrollTable";
import { SortCell, useSorting } from "../../parts/sorting";
import { Sheet } from "../../parts/Sheet";
import { StateWord } from "../../parts/StateWord";
import { Starts } from "./Starts";

type Sequence = Schemas["SequenceLine"];

const COLUMNS = {
  name: (one: Sequence) => one.name,
  state: (one: Sequence) => one.state,
  now: (one: Sequence) => one.under_way,
  entered: (one: Sequence) => one.entered,
};

/** Emails and other steps that follow over time. */
export function Sequences() {
  const workspace = useSlug();
  const go = useNavigate();
  const reload = useReload();
  const mayChange = useMayChange();
  const [asking, setAsking] = useState(false);
  const [start, setStart] = useState("");
  const params = { path: { workspace } };
  const { data, error } = useQuery(sequencesQuery(workspace));
  const sorting = useSorting(data ?? [], COLUMNS, "name");
  if (!data) return <Loading error={error} />;
  const make = async (name: string) => {
    const made = await take(
      api.POST("/api/workspaces/{workspace}/sequences", { params, body: { name, start } }),
    );
    await reload("catalogue", "sequences", "desk");
    await go(`/w/${workspace}/sequences/${made.id}`);
  };
  const button = mayChange && (
    <Button variant="contained" onClick={() => setAsking(true)}>
      New sequence
    </Button>
  );
  return (
    <Sheet
      title="Sequences"
      name="Sequences"
      actions={
        data.length > 0 && (
          <>
            <Link to="ahead">The next 30 days</Link>
            {button}
          </>
        )
      }
    >
      {data.length === 0 ? (
        <Empty says="A sequence is what follows a form: the promised email at once, another a day later. A route starts it.">
          {button}
        </Empty>
      ) : (
        <ScrollTable onPaper>
          <TableHead>
            <TableRow>
              <SortCell by="name" sorting={sorting}>
                Sequence
              </SortCell>
              <SortCell by="state" sorting={sorting}>
                State
              </SortCell>
              <SortCell by="now" sorting={sorting} align="right">
                In progress
              </SortCell>
              <SortCell by="entered" sorting={sorting} align="right">
                Total entered
              </SortCell>
              <TableCell align="right">Reached the goal</TableCell>
            </TableRow>
          </TableHead>
          <TableBody>
            {sorting.rows.map((one) => (
              <TableRow key={one.id}>
                <TableCell>
                  <Link to={one.id}>{one.name}</Link>
                  {one.stuck > 0 ? (
                    <Attention>
                      {counted(one.stuck, "person cannot", "people cannot")} continue
                    </Attention>
                  ) : (
                    <Failed times={one.attention} />
                  )}
                </TableCell>
                <TableCell>
                  <StateWord state={one.state} />
                </TableCell>
                <TableCell align="right">{one.under_way}</TableCell>
                <TableCell align="right">{number(one.entered)}</TableCell>
                <TableCell align="right">
                  {one.reached > 0 &&
                    `${number(one.reached)} (${number((100 * one.reached) / one.entered, 1)}%)`}
                </TableCell>
              </TableRow>
            ))}
          </TableBody>
        </ScrollTable>
      )}
      {asking && (
        <NameDialog
          title="New sequence"
          label="What is it for?"
          hint="Name what it leads to: “First telescope”."
          action="Create sequence"
          more={<Starts value={start} onChange={setStart} />}
          onClose={() => setAsking(false)}
          onName={make}
        />
      )}
    </Sheet>
  );
}
