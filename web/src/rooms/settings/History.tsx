import TableBody from "@mui/material/TableBody";
import TableCell from "@mui/material/TableCell";
import TableHead from "@mui/material/TableHead";
import TableRow from "@mui/material/TableRow";
import Typography from "@mui/material/Typography";
import { useInfiniteQuery } from "@tanstack/react-query";
import { Link } from "react-router";
import { historyQuery } from "../../api/settings";
import { useSlug } from "../../api/workspace";
import { Empty } from "../../parts/Empty";
import { Loading } from "../../parts/Loading";
import { ScrollTable } from "../../parts/ScrollTable";
import { useMoments } from "../../parts/moment";
import { Sheet } from "../../parts/Sheet";
import { ShowMore } from "../../parts/ShowMore";

// By the kind of thing, where it is looked at. What is gone leads to a page that says so.
const PLACES: Record<string, (at: string, id: string) => string> = {
  source: (at, id) => `${at}/sources/${id}`,
  sequence: (at, id) => `${at}/sequences/${id}`,
  audience: (at, id) => `${at}/audiences/${id}`,
  broadcast: (at, id) => `${at}/broadcasts/${id}`,
  message: (at, id) => `${at}/messages/${id}`,
  subscriber: (at, id) => `${at}/people/${id}`,
  tag: (at) => `${at}/lists`,
  mailing_list: (at) => `${at}/lists`,
  field: (at) => `${at}/fields`,
};

/** Who changed what in the workspace, the newest first. */
export function History() {
  const workspace = useSlug();
  const at = `/w/${workspace}`;
  const moments = useMoments();
  const pages = useInfiniteQuery(historyQuery(workspace));
  if (!pages.data) return <Loading error={pages.error} />;
  const rows = pages.data.pages.flatMap((page) => page.entries);
  return (
    <Sheet title="History" name="History" back={{ to: `${at}/settings`, label: "Settings" }}>
      <Typography variant="body2" color="textSecondary" sx={{ py: 1.5 }}>
        Every change by a member. What people did themselves, and what routes did, is in the trail
        of each person.
      </Typography>
      {rows.length === 0 ? (
        <Empty says="No member has changed anything yet." />
      ) : (
        <ScrollTable size="small" sx={{ maxWidth: 960 }}>
          <TableHead>
            <TableRow>
              <TableCell sx={{ width: 190 }}>When</TableCell>
              <TableCell sx={{ width: 200 }}>Who</TableCell>
              <TableCell>What</TableCell>
            </TableRow>
          </TableHead>
          <TableBody>
            {rows.map((one) => {
              const [kind, id] = Object.entries(one.place)[0] ?? [];
              const place = kind && id ? PLACES[kind]?.(at, id) : undefined;
              return (
                <TableRow key={one.id}>
                  <TableCell sx={{ whiteSpace: "nowrap" }}>{moments.moment(one.at)}</TableCell>
                  <TableCell sx={{ overflowWrap: "anywhere" }}>{one.member_name}</TableCell>
                  <TableCell sx={{ overflowWrap: "anywhere" }}>
                    {place ? <Link to={place}>{one.sentence}</Link> : one.sentence}
                  </TableCell>
                </TableRow>
              );
            })}
          </TableBody>
        </ScrollTable>
      )}
      <ShowMore pages={pages} />
    </Sheet>
  );
}
