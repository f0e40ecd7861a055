import Button from "@mui/material/Button";
import TableBody from "@mui/material/TableBody";
import TableCell from "@mui/material/TableCell";
import TableHead from "@mui/material/TableHead";
import TableRow from "@mui/material/TableRow";
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { Link, useNavigate } from "react-router";
import { broadcastsQuery } from "../../api/broadcasts";
import { api, take, type Schemas } from "../../api/client";
import { useMayChange, useReload, useSlug } from "../../api/workspace";
import { Empty } from "../../parts/Empty";
import { number } from "../../parts/formats";
import { Loading } from "../../parts/Loading";
import { useMoments } from "../../parts/moment";
import { NameDialog } from "../../parts/NameDialog";
import { ScrollTable } from "../../parts/ScrollTable";
import { SearchField } from "../../parts/SearchField";
import { percent } from "../../parts/share";
import { Sheet } from "../../parts/Sheet";
import { StateWord } from "../../parts/StateWord";
import { isPlanned, markOf, STATES } from "./words";

type Line = Schemas["BroadcastLine"];

/** Letters to many at one time. */
export function Broadcasts() {
  const workspace = useSlug();
  const mayChange = useMayChange();
  const go = useNavigate();
  const reload = useReload();
  const [asking, setAsking] = useState(false);
  const [archived, setArchived] = useState(false);
  const [search, setSearch] = useState("");
  const { data, error } = useQuery(broadcastsQuery(workspace));
  if (!data) return <Loading error={error} />;
  const make = async (name: string) => {
    const made = await take(
      api.POST("/api/workspaces/{workspace}/broadcasts", {
        params: { path: { workspace } },
        body: { name },
      }),
    );
    await reload("broadcasts");
    await go(made.id);
  };
  const button = mayChange && (
    <Button variant="contained" onClick={() => setAsking(true)}>
      New broadcast
    </Button>
  );
  const wanted = search.trim().toLowerCase();
  const rows = data.filter(
    (one) => one.archived === archived && one.name.toLowerCase().includes(wanted),
  );
  return (
    <Sheet
      title="Broadcasts"
      name="Broadcasts"
      actions={
        data.length > 0 && (
          <>
            <SearchField label="Search broadcasts" value={search} onSearch={setSearch} />
            {data.some((one) => one.archived) && (
              <Button aria-pressed={archived} onClick={() => setArchived(!archived)}>
                {archived ? "Show the others" : "Show archived"}
              </Button>
            )}
            {button}
          </>
        )
      }
    >
      {data.length === 0 ? (
        <Empty says="A broadcast is one letter to many people at one time: a monthly letter, an invitation. Everybody is counted before it goes, and it can be called back for a few minutes.">
          {button}
        </Empty>
      ) : (
        <ScrollTable onPaper>
          <TableHead>
            <TableRow>
              <TableCell>Broadcast</TableCell>
              <TableCell>To</TableCell>
              <TableCell>When</TableCell>
              <TableCell align="right">Sent</TableCell>
              <TableCell align="right">Opened, about</TableCell>
              <TableCell align="right">Clicked</TableCell>
              <TableCell align="right">Unsubscribed</TableCell>
            </TableRow>
          </TableHead>
          <TableBody>
            {rows.map((one) => (
              <BroadcastRow key={one.id} line={one} />
            ))}
          </TableBody>
        </ScrollTable>
      )}
      {asking && (
        <NameDialog
          title="New broadcast"
          label="What is it about?"
          hint="“December open nights”. Only members see this name."
          action="Create broadcast"
          onClose={() => setAsking(false)}
          onName={make}
        />
      )}
    </Sheet>
  );
}

function BroadcastRow({ line }: { line: Line }) {
  const moments = useMoments();
  const planned = isPlanned(line.state);
  const share = (count: number) => (line.sent ? percent(count, line.sent) : "");
  return (
    <TableRow>
      <TableCell sx={{ minWidth: { xs: 180, lg: 260 } }}>
        <Link to={line.id}>{line.name}</Link>
        <br />
        <StateWord state={markOf(line.state)} word={STATES[line.state]} />
      </TableCell>
      <TableCell sx={{ overflowWrap: "anywhere", minWidth: 180 }}>{line.to}</TableCell>
      <TableCell sx={{ minWidth: 130 }}>
        {planned ? (line.when.split(" · ")[0] ?? "") : moments.moment(line.at)}
      </TableCell>
      <TableCell align="right">{line.sent ? number(line.sent) : ""}</TableCell>
      <TableCell align="right">{share(line.opened)}</TableCell>
      <TableCell align="right">{share(line.clicked)}</TableCell>
      <TableCell align="right">{share(line.left)}</TableCell>
    </TableRow>
  );
}
