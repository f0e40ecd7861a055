import Button from "@mui/material/Button";
import TableBody from "@mui/material/TableBody";
import TableCell from "@mui/material/TableCell";
import TableHead from "@mui/material/TableHead";
import TableRow from "@mui/material/TableRow";
import Typography from "@mui/material/Typography";
import { api, take, type Schemas } from "../../api/client";
import { useAttempt } from "../../api/useAttempt";
import { useReload, useSlug } from "../../api/workspace";
import { Band, BandRow } from "../../parts/Band";
import { number } from "../../parts/formats";
import { Problem } from "../../parts/Problem";
import { ScrollTable } from "../../parts/ScrollTable";
import { percent } from "../../parts/share";

const DID: Record<Schemas["BroadcastDocument"]["trial"]["by"], string> = {
  clicked: "Clicked",
  opened: "Opened, about",
  goal: "Reached the goal",
  fewest_left: "Unsubscribed",
  member: "Clicked",
};

interface TrialBandProps {
  broadcast: Schemas["BroadcastOut"];
  trial: Schemas["BroadcastTrial"];
  /** What it said when the version for the rest was chosen. */
  decided: Schemas["BroadcastTrial"] | null;
  /** Whether a member may choose the version for the rest now. */
  mayChange: boolean;
}

/** What the trial says: each version with its share and where that lies in 95 of 100 cases. */
export function TrialBand({ broadcast, trial, decided, mayChange }: TrialBandProps) {
  const workspace = useSlug();
  const reload = useReload();
  const { attempt, failed, busy } = useAttempt();
  const nameOf = (id: string) => {
    const at = broadcast.document.versions.findIndex((one) => one.id === id);
    return "ABCD"[at] ?? "A";
  };
  const choose = (version: string) =>
    attempt(async () => {
      await take(
        api.POST("/api/workspaces/{workspace}/broadcasts/{broadcast}/choose", {
          params: { path: { workspace, broadcast: broadcast.id } },
          body: { version },
        }),
      );
      await reload("broadcast", "broadcast-progress");
    });
  const now = trial.clear
    ? `Version ${nameOf(trial.version)} is better: its interval lies apart from the others.`
    : `Too early to say: the intervals overlap${
        trial.needed
          ? `. For such a difference to show, about ${number(trial.needed)} people would have to get each`
          : ""
      }.`;
  const why = () => {
    const went = nameOf(broadcast.chosen);
    if (decided?.version !== broadcast.chosen)
      return `A member chose version ${went} for the rest.`;
    return decided.clear
      ? `Version ${went} was clearly better, and went to the rest.`
      : `It was too early to say when it was decided, so version ${went} went to the rest.`;
  };
  const since =
    trial.clear && !(decided?.clear && decided.version === trial.version)
      ? ` By now version ${nameOf(trial.version)} is better.`
      : "";
  const says = decided ? `${why()}${since}` : now;
  return (
    <Band name="Trial">
      <BandRow>
        <Typography role="status" sx={{ mb: 1 }}>
          {says}
        </Typography>
        <Problem error={failed} />
        <ScrollTable>
          <TableHead>
            <TableRow>
              <TableCell>Version</TableCell>
              <TableCell align="right">Sent</TableCell>
              <TableCell align="right">{DID[broadcast.document.trial.by]}</TableCell>
              <TableCell align="right">In 95 of 100 cases between</TableCell>
              {mayChange && <TableCell />}
            </TableRow>
          </TableHead>
          <TableBody>
            {trial.versions.map((one, at) => (
              <TableRow key={one.version}>
                <TableCell sx={{ overflowWrap: "anywhere" }}>
                  <strong>{nameOf(one.version)}</strong> {broadcast.messages[at]}
                </TableCell>
                <TableCell align="right">{number(one.sent)}</TableCell>
                <TableCell align="right">
                  {one.sent ? percent(one.count, one.sent) : "none"} ({number(one.count)})
                </TableCell>
                <TableCell align="right" sx={{ whiteSpace: "nowrap" }}>
                  {percent(one.low, 1)} and {percent(one.high, 1)}
                </TableCell>
                {mayChange && (
                  <TableCell align="right">
                    <Button disabled={busy} onClick={() => void choose(one.version)}>
                      Send {nameOf(one.version)} to the rest
                    </Button>
                  </TableCell>
                )}
              </TableRow>
            ))}
          </TableBody>
        </ScrollTable>
      </BandRow>
    </Band>
  );
}
