import Typography from "@mui/material/Typography";
import TableBody from "@mui/material/TableBody";
import TableCell from "@mui/material/TableCell";
import TableRow from "@mui/material/TableRow";
import { Link } from "react-router";
import type { Schemas } from "../../api/client";
import { useSlug } from "../../api/workspace";
import { Band } from "../../parts/Band";
import { useMoments } from "../../parts/moment";
import { RevisionList } from "../../parts/RevisionList";
import { ScrollTable } from "../../parts/ScrollTable";
import { StateWord } from "../../parts/StateWord";

interface LatelyProps {
  source: Schemas["SourceOut"];
  submissions: Schemas["SubmissionLine"][];
}

/** The last submissions, each with where it is now. */
export function Lately({ source, submissions }: LatelyProps) {
  const at = `/w/${useSlug()}`;
  const moments = useMoments();
  const { arrived, waiting, stuck, held } = source.arrivals;
  const note = [
    `${arrived} total`,
    waiting && `${waiting} waiting`,
    held && `${held} held`,
    stuck && `${stuck} stuck`,
  ];
  return (
    <Band name="Recent" id="lately" note={note.filter(Boolean).join(" · ")}>
      {submissions.length === 0 ? (
        <Typography color="textSecondary" sx={{ pl: 1.5 }}>
          Nothing has come in yet.
        </Typography>
      ) : (
        <ScrollTable size="small" sx={{ bgcolor: "background.paper" }}>
          <TableBody>
            {submissions.slice(0, 12).map((one) => (
              <TableRow key={one.id}>
                <TableCell sx={{ pl: 1.5, whiteSpace: "nowrap" }}>
                  <Link to={`${at}/submissions/${one.id}`}>{moments.moment(one.received_at)}</Link>
                </TableCell>
                <TableCell>
                  {one.person ? (
                    <Link to={`${at}/people/${one.person}`}>{one.address}</Link>
                  ) : (
                    one.answers[0]?.text
                  )}
                </TableCell>
                <TableCell>
                  <StateWord
                    state={one.state}
                    word={one.state === "received" ? "waiting" : one.state}
                  />
                </TableCell>
                <TableCell>
                  <Typography variant="body2" color={one.held_because ? "warning" : "error"}>
                    {one.is_test && "a test, not counted "}
                    {one.held_because || one.problems[0]}
                  </Typography>
                </TableCell>
              </TableRow>
            ))}
          </TableBody>
        </ScrollTable>
      )}
      {submissions.length > 0 && (
        <Typography variant="body2" sx={{ pt: 1, pl: 1.5 }}>
          <Link to={`${at}/submissions?source=${source.id}`}>All of its submissions</Link>
        </Typography>
      )}
      <RevisionList revisions={source.revisions} at={`${at}/sources/${source.id}/revisions`} />
    </Band>
  );
}
