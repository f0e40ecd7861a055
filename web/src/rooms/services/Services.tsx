import { number } from "../../parts/formats";
import Button from "@mui/material/Button";
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
import { ScrollTable } from "../../parts/ScrollTable";
import { useMoments } from "../../parts/moment";
import { Sheet } from "../../parts/Sheet";
import { StateWord } from "../../parts/StateWord";
import { NewService } from "./NewService";
import { useServices } from "./queries";
import { CONNECTION } from "./words";

/** The connected services: how each is, and what went to it and came from it. */
export function Services() {
  const workspace = useSlug();
  const moments = useMoments();
  const mayChange = useMayChange();
  const [connecting, setConnecting] = useState(false);
  const { data, error } = useServices();
  if (!data) return <Loading error={error} />;
  const connect = mayChange && (
    <Button variant="contained" onClick={() => setConnecting(true)}>
      Connect a service
    </Button>
  );
  return (
    <Sheet title="Services" name="Services" actions={data.length > 0 && connect}>
      {data.length === 0 ? (
        <Empty says="Nothing is connected. A service is another program: people are handed to it by a rule or a step, and what happens there comes back as events.">
          {connect}
        </Empty>
      ) : (
        <ScrollTable size="small" onPaper>
          <TableHead>
            <TableRow>
              <TableCell>Service</TableCell>
              <TableCell>State</TableCell>
              <TableCell align="right">Handed over, 30 days</TableCell>
              <TableCell align="right">Waiting</TableCell>
              <TableCell align="right">Failed</TableCell>
              <TableCell sx={{ pl: 4 }}>Last handoff</TableCell>
              <TableCell>Last event</TableCell>
            </TableRow>
          </TableHead>
          <TableBody>
            {data.map((one) => (
              <TableRow key={one.id} hover>
                <TableCell>
                  <Link to={`/w/${workspace}/services/${one.id}`}>{one.name}</Link>
                  <Typography variant="caption" component="div" color="textSecondary">
                    {one.purpose || one.kind}
                  </Typography>
                </TableCell>
                <TableCell>
                  <StateWord
                    state={CONNECTION[one.state]?.mark ?? "draft"}
                    word={CONNECTION[one.state]?.word ?? one.state}
                  />
                  {one.trouble && (
                    <Typography variant="caption" component="div" color="textSecondary">
                      {one.trouble}
                    </Typography>
                  )}
                </TableCell>
                <TableCell align="right">{one.hands_over ? figure(one.handed) : "—"}</TableCell>
                <TableCell align="right">{one.hands_over ? figure(one.waiting) : "—"}</TableCell>
                <TableCell align="right" sx={{ color: one.failed ? "error.main" : undefined }}>
                  {one.hands_over ? figure(one.failed) : "—"}
                </TableCell>
                <TableCell sx={{ pl: 4, whiteSpace: "nowrap" }}>
                  {one.handed_at ? moments.moment(one.handed_at) : "—"}
                </TableCell>
                <TableCell>{one.heard_at ? moments.moment(one.heard_at) : "—"}</TableCell>
              </TableRow>
            ))}
          </TableBody>
        </ScrollTable>
      )}
      {connecting && <NewService onClose={() => setConnecting(false)} />}
    </Sheet>
  );
}

function figure(count: number): string {
  return number(count);
}
