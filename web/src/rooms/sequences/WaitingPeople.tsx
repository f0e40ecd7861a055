import Button from "@mui/material/Button";
import Dialog from "@mui/material/Dialog";
import DialogActions from "@mui/material/DialogActions";
import DialogContent from "@mui/material/DialogContent";
import DialogTitle from "@mui/material/DialogTitle";
import Table from "@mui/material/Table";
import TableBody from "@mui/material/TableBody";
import TableCell from "@mui/material/TableCell";
import TableHead from "@mui/material/TableHead";
import TableRow from "@mui/material/TableRow";
import { useQuery } from "@tanstack/react-query";
import { Link } from "react-router";
import { api, take } from "../../api/client";
import { useSlug } from "../../api/workspace";
import { useMoments } from "../../parts/moment";

interface WaitingPeopleProps {
  sequence: string;
  step: string;
  onClose: () => void;
}

/** Who stands at a step, since when, and when they go on. */
export function WaitingPeople({ sequence, step, onClose }: WaitingPeopleProps) {
  const workspace = useSlug();
  const moments = useMoments();
  const { data } = useQuery({
    queryKey: ["waiting", workspace, sequence, step],
    queryFn: () =>
      take(
        api.GET("/api/workspaces/{workspace}/sequences/{sequence}/waiting/{step}", {
          params: { path: { workspace, sequence, step } },
        }),
      ),
  });
  return (
    <Dialog open onClose={onClose} maxWidth="md">
      <DialogTitle>Waiting here</DialogTitle>
      <DialogContent>
        <Table size="small">
          <TableHead>
            <TableRow>
              <TableCell>Person</TableCell>
              <TableCell>Came</TableCell>
              <TableCell>Goes on</TableCell>
            </TableRow>
          </TableHead>
          <TableBody>
            {data?.map((one) => (
              <TableRow key={one.person}>
                <TableCell>
                  <Link to={`/w/${workspace}/people/${one.person}`}>{one.name || one.address}</Link>
                </TableCell>
                <TableCell>{one.came_at && moments.moment(one.came_at)}</TableCell>
                <TableCell>{one.due_at && moments.moment(one.due_at)}</TableCell>
              </TableRow>
            ))}
          </TableBody>
        </Table>
      </DialogContent>
      <DialogActions>
        <Button onClick={onClose}>Close</Button>
      </DialogActions>
    </Dialog>
  );
}
