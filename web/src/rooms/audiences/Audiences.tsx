import Button from "@mui/material/Button";
import TableBody from "@mui/material/TableBody";
import TableCell from "@mui/material/TableCell";
import TableHead from "@mui/material/TableHead";
import TableRow from "@mui/material/TableRow";
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { Link } from "react-router";
import { audienceCountQuery, audiencesQuery } from "../../api/audiences";
import type { Schemas } from "../../api/client";
import { useMayChange, useSlug } from "../../api/workspace";
import { Empty } from "../../parts/Empty";
import { number } from "../../parts/formats";
import { Loading } from "../../parts/Loading";
import { useMoments } from "../../parts/moment";
import { NameDialog } from "../../parts/NameDialog";
import { ScrollTable } from "../../parts/ScrollTable";
import { SortCell, useSorting } from "../../parts/sorting";
import { Sheet } from "../../parts/Sheet";
import { FrozenGroups } from "./FrozenGroups";
import { useMakeAudience } from "./useMakeAudience";

type Audience = Schemas["AudienceLine"];

const COLUMNS = {
  name: (one: Audience) => one.name,
  people: (one: Audience) => one.people,
};

/** Conditions that are kept by a name. */
export function Audiences() {
  const workspace = useSlug();
  const mayChange = useMayChange();
  const make = useMakeAudience();
  const [asking, setAsking] = useState(false);
  const { data, error } = useQuery(audiencesQuery(workspace));
  const sorting = useSorting(data ?? [], COLUMNS, "name");
  if (!data) return <Loading error={error} />;
  const button = mayChange && (
    <Button variant="contained" onClick={() => setAsking(true)}>
      New audience
    </Button>
  );
  return (
    <Sheet title="Audiences" name="Audiences" actions={data.length > 0 && button}>
      {data.length === 0 ? (
        <Empty says="An audience is a saved condition: everybody who planned a visit and has not bought yet, for example. It is always current, because people are not copied into it.">
          {button}
        </Empty>
      ) : (
        <ScrollTable onPaper>
          <TableHead>
            <TableRow>
              <SortCell by="name" sorting={sorting}>
                Audience
              </SortCell>
              <TableCell>Who</TableCell>
              <SortCell by="people" sorting={sorting} align="right">
                People
              </SortCell>
              <TableCell>Counted</TableCell>
            </TableRow>
          </TableHead>
          <TableBody>
            {sorting.rows.map((one) => (
              <AudienceRow key={one.id} audience={one} />
            ))}
          </TableBody>
        </ScrollTable>
      )}
      <FrozenGroups />
      {asking && (
        <NameDialog
          title="New audience"
          label="What do you call these people?"
          hint="“Planned a visit, not bought yet”. What they have in common comes next."
          action="Create audience"
          onClose={() => setAsking(false)}
          onName={(name) => make(name, { kind: "all", of: [] })}
        />
      )}
    </Sheet>
  );
}

/** What was counted less than this ago, in milliseconds, stands as it is. */
const FRESH = 10 * 60_000;

/** One audience; it is counted anew where the last count is old. */
function AudienceRow({ audience }: { audience: Audience }) {
  const workspace = useSlug();
  const moments = useMoments();
  const [openedAt] = useState(() => Date.now());
  const { counted_at } = audience;
  const isOld = !counted_at || openedAt - Date.parse(counted_at) > FRESH;
  const { data, error } = useQuery({
    ...audienceCountQuery(workspace, audience.id),
    enabled: isOld,
    staleTime: FRESH,
  });
  const people = data?.people ?? audience.people;
  return (
    <TableRow>
      <TableCell sx={{ minWidth: 160 }}>
        <Link to={audience.id}>{audience.name}</Link>
        {audience.differs && " · draft not live"}
      </TableCell>
      <TableCell sx={{ overflowWrap: "anywhere" }}>{audience.sentence || "everybody"}</TableCell>
      <TableCell align="right">{people === null ? "…" : number(people)}</TableCell>
      <TableCell sx={{ whiteSpace: "nowrap" }}>
        {data ? "now" : error ? error.message : counted_at && moments.moment(counted_at)}
      </TableCell>
    </TableRow>
  );
}
