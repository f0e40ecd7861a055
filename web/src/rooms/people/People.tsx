import { counted } from "../../parts/formats";
import { peopleQuery } from "../../api/people";
import Alert from "@mui/material/Alert";
import Button from "@mui/material/Button";
import TableBody from "@mui/material/TableBody";
import TableCell from "@mui/material/TableCell";
import TableHead from "@mui/material/TableHead";
import TableRow from "@mui/material/TableRow";
import Typography from "@mui/material/Typography";
import { keepPreviousData, useInfiniteQuery } from "@tanstack/react-query";
import { useEffect, useState } from "react";
import { Link, useLocation, useNavigate } from "react-router";
import { parseAsString, useQueryStates } from "nuqs";
import { useCatalogue, useSlug } from "../../api/workspace";
import { Address } from "../../parts/Address";
import { Empty } from "../../parts/Empty";
import { Few } from "../../parts/Few";
import { Loading } from "../../parts/Loading";
import { ScrollTable } from "../../parts/ScrollTable";
import { useMoments } from "../../parts/moment";
import { SearchField } from "../../parts/SearchField";
import { Sheet } from "../../parts/Sheet";
import { ShowMore } from "../../parts/ShowMore";
import { focusOnCondition, OnlyWho } from "./OnlyWho";
import { useCondition } from "./useCondition";

/** Who was erased just now. It is said once: the browser's history does not keep the address. */
function useErased() {
  const { search, ...location } = useLocation();
  const go = useNavigate();
  const told = (location.state as { erased?: string } | null)?.erased;
  const [erased, setErased] = useState(() => told);
  useEffect(() => {
    if (told) void go({ search }, { replace: true, state: null });
  }, [told, search, go]);
  return [erased, setErased] as const;
}

/** What the address of the screen holds. */
const SHOWN = {
  search: parseAsString.withDefault(""),
  who: parseAsString,
};

/** Columns that a phone has no room for. */
const wide = { display: { xs: "none", sm: "table-cell" } };

/** Everybody, the newest first; found by address, name or a condition. */
export function People() {
  const workspace = useSlug();
  const moments = useMoments();
  const [shown, setShown] = useQueryStates(SHOWN);
  const [erased, setErased] = useErased();
  const { search } = shown;
  const { who, setWho, settled } = useCondition(
    shown.who,
    (next) => void setShown({ who: next ?? null }),
  );
  const { data: catalogue } = useCatalogue();
  const people = useInfiniteQuery({
    ...peopleQuery(workspace, search, settled),
    placeholderData: keepPreviousData,
  });
  if (!people.data) return <Loading error={people.error} />;
  const rows = people.data.pages.flatMap((page) => page.people);
  const total = people.data.pages[0]?.total ?? 0;
  return (
    <Sheet
      title="People"
      name="People"
      state={
        <Typography variant="body2" color="textSecondary">
          {counted(total, "person", "people")}
        </Typography>
      }
      actions={
        <>
          {!who && (
            <Button
              onClick={() => {
                setWho({ kind: "all", of: [] });
                focusOnCondition();
              }}
            >
              Filter
            </Button>
          )}
          <SearchField
            label="Address or name"
            value={search}
            onSearch={(text) => void setShown({ search: text || null })}
            width={260}
            inHead
          />
        </>
      }
    >
      {erased && (
        <Alert severity="success" onClose={() => setErased(undefined)} sx={{ mt: 1.5 }}>
          All personal data of {erased} has been erased.
        </Alert>
      )}
      {who && settled && catalogue && (
        <OnlyWho condition={who} settled={settled} catalogue={catalogue} onChange={setWho} />
      )}
      {rows.length === 0 ? (
        <Empty
          says={
            search || who
              ? "No matches."
              : "Nobody yet. People appear here as soon as a form that is turned on is sent."
          }
        />
      ) : (
        <ScrollTable onPaper>
          <TableHead>
            <TableRow>
              <TableCell>Name</TableCell>
              <TableCell sx={wide}>Address</TableCell>
              <TableCell sx={wide}>Tags</TableCell>
              <TableCell sx={wide}>Subscribed to</TableCell>
              <TableCell>Since</TableCell>
            </TableRow>
          </TableHead>
          <TableBody>
            {rows.map((one) => (
              <TableRow key={one.id}>
                <TableCell sx={{ overflowWrap: "anywhere", minWidth: 150 }}>
                  <Link to={`/w/${workspace}/people/${one.id}`}>
                    {one.name || <Address of={one.address} />}
                  </Link>
                  {one.name && (
                    <Typography
                      variant="caption"
                      component="div"
                      color="textSecondary"
                      sx={{ display: { sm: "none" } }}
                    >
                      <Address of={one.address} />
                    </Typography>
                  )}
                </TableCell>
                <TableCell sx={{ ...wide, overflowWrap: "anywhere" }}>
                  {one.name && <Address of={one.address} />}
                </TableCell>
                <TableCell sx={wide}>
                  <Few of={one.tags} />
                </TableCell>
                <TableCell sx={wide}>{one.lists.join(", ")}</TableCell>
                <TableCell sx={{ whiteSpace: "nowrap" }}>{moments.moment(one.added_at)}</TableCell>
              </TableRow>
            ))}
          </TableBody>
        </ScrollTable>
      )}
      <ShowMore pages={people} />
    </Sheet>
  );
}
