import { counted } from "../../parts/formats";
import { useAttempt } from "../../api/useAttempt";
import Button from "@mui/material/Button";
import Dialog from "@mui/material/Dialog";
import DialogActions from "@mui/material/DialogActions";
import DialogContent from "@mui/material/DialogContent";
import DialogTitle from "@mui/material/DialogTitle";
import TableBody from "@mui/material/TableBody";
import TableCell from "@mui/material/TableCell";
import TableHead from "@mui/material/TableHead";
import TableRow from "@mui/material/TableRow";
import Typography from "@mui/material/Typography";
import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { Link } from "react-router";
import { runsThereQuery } from "../../api/sequences";
import { api, take } from "../../api/client";
import { useMayChange, useReload, useSlug } from "../../api/workspace";
import { useMoments } from "../../parts/moment";
import { Problem } from "../../parts/Problem";
import { ScrollTable } from "../../parts/ScrollTable";
import { SaveAsAudience } from "../audiences/SaveAsAudience";
import { inSequence } from "../conditions/people";
import { tryAgain } from "./tryAgain";
import { ENDED } from "./words";

export interface PeopleFilter {
  step?: string;
  ended?: string;
}

/** What a condition asks of a sequence, for those who are shown. */
const KEPT: Record<string, "under_way" | "ever"> = { "": "under_way", entered: "ever" };

interface PeopleThereProps {
  sequence: string;
  /** The name of the sequence. */
  name: string;
  filter: PeopleFilter;
  words: Record<string, string>;
  onClose: () => void;
}

/** Who is where: since when, until when, what moved their next email; each can be taken out. */
export function PeopleThere({ sequence, name, filter, words, onClose }: PeopleThereProps) {
  const workspace = useSlug();
  const moments = useMoments();
  const reload = useReload();
  const mayChange = useMayChange();
  const [after, setAfter] = useState(0);
  const { attempt, failed } = useAttempt();
  const { data, error } = useQuery({
    ...runsThereQuery(workspace, sequence, filter, after),
    placeholderData: keepPreviousData,
  });
  const act = async (work: Promise<unknown>) => {
    await attempt(async () => {
      await work;
      await reload("runs", "sequence", "sequences", "desk", "snags");
    });
  };
  const takeOut = (run: string) =>
    act(
      take(
        api.POST("/api/workspaces/{workspace}/runs/{run}/take-out", {
          params: { path: { workspace, run } },
        }),
      ),
    );
  const again = (run: string) => act(tryAgain(workspace, run));
  const at = filter.step ? `: ${words[filter.step] ?? "a step that is gone"}` : "";
  // Of a single step, and of how it ended, no condition asks.
  const kept = filter.step ? undefined : KEPT[filter.ended ?? "entered"];
  const what =
    filter.ended === undefined
      ? filter.step
        ? "People"
        : "Everybody who entered"
      : filter.ended
        ? ENDED[filter.ended]
        : "In progress";
  return (
    <Dialog open onClose={onClose} maxWidth="md" fullWidth>
      <DialogTitle>
        {what}
        {at}
      </DialogTitle>
      <DialogContent>
        <Typography variant="body2" color="textSecondary" role="status">
          {data && counted(data.total, "person", "people")}
        </Typography>
        <Problem error={error ?? failed} />
        <ScrollTable size="small">
          <TableHead>
            <TableRow>
              <TableCell>Person</TableCell>
              <TableCell>Entered</TableCell>
              <TableCell>Step</TableCell>
              <TableCell>Continues</TableCell>
              <TableCell />
            </TableRow>
          </TableHead>
          <TableBody>
            {data?.runs.map((one) => (
              <TableRow key={one.run}>
                <TableCell>
                  <Link to={`/w/${workspace}/people/${one.person}`}>{one.name || one.address}</Link>
                </TableCell>
                <TableCell>{moments.moment(one.entered_at)}</TableCell>
                <TableCell>{one.step ? (words[one.step] ?? "a step that is gone") : "—"}</TableCell>
                <TableCell>
                  {one.ended
                    ? `${ENDED[one.ended] ?? one.ended}, ${one.ended_at ? moments.moment(one.ended_at) : ""}`
                    : one.held || (one.due_at && moments.moment(one.due_at))}
                  {one.moved[0] && (
                    <Typography variant="caption" component="div" color="warning">
                      moved from {moments.moment(one.moved[0].wanted)}:{" "}
                      {one.moved.map((move) => move.why).join(", ")}
                    </Typography>
                  )}
                </TableCell>
                <TableCell align="right">
                  {mayChange && one.held && !one.ended && (
                    <Button onClick={() => void again(one.run)}>Try again</Button>
                  )}
                  {mayChange && !one.ended && (
                    <Button onClick={() => void takeOut(one.run)}>Take out</Button>
                  )}
                </TableCell>
              </TableRow>
            ))}
          </TableBody>
        </ScrollTable>
      </DialogContent>
      <DialogActions>
        {kept && (
          <SaveAsAudience
            condition={inSequence(sequence, kept)}
            sentence={`${kept === "ever" ? "Entered" : "In progress in"} ${name}`}
          />
        )}
        {after > 0 && <Button onClick={() => setAfter(after - 100)}>Previous 100</Button>}
        {data && data.total > after + 100 && (
          <Button onClick={() => setAfter(after + 100)}>Next 100</Button>
        )}
        <Button onClick={onClose}>Close</Button>
      </DialogActions>
    </Dialog>
  );
}
