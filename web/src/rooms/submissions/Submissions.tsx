import { counted, number } from "../../parts/formats";
import Checkbox from "@mui/material/Checkbox";
import TableBody from "@mui/material/TableBody";
import TableCell from "@mui/material/TableCell";
import TableHead from "@mui/material/TableHead";
import TableRow from "@mui/material/TableRow";
import Typography from "@mui/material/Typography";
import { useState } from "react";
import { Link } from "react-router";
import { useMayChange, useSlug } from "../../api/workspace";
import { Empty } from "../../parts/Empty";
import { Loading } from "../../parts/Loading";
import { useMoments } from "../../parts/moment";
import { Problem } from "../../parts/Problem";
import { ScrollTable } from "../../parts/ScrollTable";
import { Sheet } from "../../parts/Sheet";
import { ShowMore } from "../../parts/ShowMore";
import { StateWord } from "../../parts/StateWord";
import { later } from "./later";
import { SubmissionActions } from "./SubmissionActions";
import { SubmissionFilters } from "./SubmissionFilters";
import { chosenOf, useFilter, useSubmissions } from "./useSubmissions";

/** Columns that a phone has no room for. */
const wide = { display: { xs: "none", sm: "table-cell" } };

/** As far as the server counts. */
const COUNTED = 10_000;

/** The log of everything that came in, and what can be done with it. */
export function Submissions() {
  const workspace = useSlug();
  const at = `/w/${workspace}`;
  const moments = useMoments();
  const mayChange = useMayChange();
  const [marked, setMarked] = useState<Set<string>>(new Set());
  const [shown] = useFilter();
  const filter = chosenOf(shown);
  const log = useSubmissions(filter);
  const { data, error } = log;
  if (!data) return <Loading error={error} />;
  const rows = data.pages.flatMap((page) => page.submissions);
  const total = data.pages[0]?.total ?? 0;
  const mark = (id: string, on: boolean) => {
    const next = new Set(marked);
    if (on) next.add(id);
    else next.delete(id);
    setMarked(next);
  };
  const query = new URLSearchParams(Object.entries(filter).map(([name, value]) => [name, value]));
  const file = (form: "csv" | "jsonl") =>
    `/api/workspaces/${workspace}/submissions/export?form=${form}&${query.toString()}`;
  return (
    <Sheet
      title="Submissions"
      name="Submissions"
      back={{ to: `${at}/sources`, label: "Sources" }}
      state={
        <Typography variant="body2" color="textSecondary">
          {total >= COUNTED
            ? `${number(COUNTED)} submissions or more`
            : counted(total, "submission", "submissions")}
        </Typography>
      }
      actions={
        <Typography variant="body2">
          Export as{" "}
          <a href={file("csv")} download>
            CSV
          </a>{" "}
          or{" "}
          <a href={file("jsonl")} download>
            JSON lines
          </a>
        </Typography>
      }
    >
      <SubmissionFilters />
      {mayChange && (
        <SubmissionActions
          submissions={rows.filter((one) => marked.has(one.id))}
          onDone={() => setMarked(new Set())}
        />
      )}
      <Problem error={error} />
      {rows.length === 0 ? (
        <Empty says="No submission fits. They appear here as soon as a source that is turned on receives one." />
      ) : (
        <ScrollTable size="small" onPaper>
          <TableHead>
            <TableRow>
              {mayChange && (
                <TableCell padding="checkbox">
                  <Checkbox
                    size="small"
                    checked={rows.every((one) => marked.has(one.id))}
                    indeterminate={marked.size > 0 && !rows.every((one) => marked.has(one.id))}
                    onChange={(event) =>
                      setMarked(new Set(event.target.checked ? rows.map((one) => one.id) : []))
                    }
                    slotProps={{ input: { "aria-label": "Mark all that are shown" } }}
                  />
                </TableCell>
              )}
              <TableCell>Received</TableCell>
              <TableCell sx={wide}>Source</TableCell>
              <TableCell>Person, or first answer</TableCell>
              <TableCell>Status</TableCell>
            </TableRow>
          </TableHead>
          <TableBody>
            {rows.map((one) => (
              <TableRow key={one.id} selected={marked.has(one.id)}>
                {mayChange && (
                  <TableCell padding="checkbox">
                    <Checkbox
                      size="small"
                      checked={marked.has(one.id)}
                      onChange={(event) => mark(one.id, event.target.checked)}
                      slotProps={{
                        input: { "aria-label": `Mark ${one.address || one.answers[0]?.text}` },
                      }}
                    />
                  </TableCell>
                )}
                <TableCell sx={{ whiteSpace: "nowrap" }}>
                  <Link to={`${at}/submissions/${one.id}`}>{moments.moment(one.received_at)}</Link>
                </TableCell>
                <TableCell sx={wide}>
                  <Link to={`${at}/sources/${one.source}`}>{one.source_name}</Link>
                </TableCell>
                <TableCell sx={{ overflowWrap: "anywhere", minWidth: 130 }}>
                  {one.person ? (
                    <Link to={`${at}/people/${one.person}`}>{one.address}</Link>
                  ) : (
                    one.answers[0]?.text || (one.forgotten ? "emptied" : "—")
                  )}
                  {(one.held_because || one.problems[0]) && (
                    <Typography
                      variant="caption"
                      component="div"
                      color={one.held_because ? "warning" : "error"}
                    >
                      {one.held_because || one.problems[0]}
                    </Typography>
                  )}
                  {one.is_test && (
                    <Typography component="span" variant="caption" color="info">
                      {" "}
                      test
                    </Typography>
                  )}
                </TableCell>
                <TableCell sx={{ whiteSpace: "nowrap" }}>
                  <StateWord
                    state={one.state}
                    word={one.state === "received" ? "waiting" : one.state}
                  />
                  {one.routed_at && (
                    <Typography component="span" variant="caption" color="textSecondary">
                      {" "}
                      {later(one.received_at, one.routed_at)}
                    </Typography>
                  )}
                </TableCell>
              </TableRow>
            ))}
          </TableBody>
        </ScrollTable>
      )}
      <ShowMore pages={log} />
    </Sheet>
  );
}
