import { counted, number } from "../../parts/formats";
import Button from "@mui/material/Button";
import LinearProgress from "@mui/material/LinearProgress";
import Stack from "@mui/material/Stack";
import TableBody from "@mui/material/TableBody";
import TableCell from "@mui/material/TableCell";
import TableHead from "@mui/material/TableHead";
import TableRow from "@mui/material/TableRow";
import ToggleButton from "@mui/material/ToggleButton";
import ToggleButtonGroup from "@mui/material/ToggleButtonGroup";
import Typography from "@mui/material/Typography";
import { useState } from "react";
import { Link } from "react-router";
import { useMayChange, useSlug } from "../../api/workspace";
import { Band, BandRow } from "../../parts/Band";
import { ScrollTable } from "../../parts/ScrollTable";
import { ShowMore } from "../../parts/ShowMore";
import { EffectWords } from "./EffectWords";
import { isWorking, useReplayLines, type Kind, type Replay } from "./useReplay";

const DOING: Record<string, string> = {
  looking: "Looking",
  running: "Carrying out",
  undoing: "Undoing",
};

interface ReplayResultProps {
  replay: Replay;
  onAct: (what: "run" | "stop" | "undo") => void;
}

/** What a replay would do, does, or did: how many, and each person. */
export function ReplayResult({ replay, onAct }: ReplayResultProps) {
  const mayChange = useMayChange();
  const changed = replay.counts["changed"] ?? 0;
  const words = [
    `${counted(replay.counts["adds"] ?? 0, "thing", "things")} added`,
    `${replay.counts["changes"] ?? 0} changed`,
    `${replay.counts["removes"] ?? 0} taken away`,
  ].join(", ");
  if (isWorking(replay)) {
    const share = replay.people ? (replay.next_line / replay.people) * 100 : 0;
    return (
      <Band name={DOING[replay.state] ?? "At it"}>
        <BandRow>
          <Stack spacing={1}>
            <Typography role="status">
              {number(replay.next_line)} of {number(replay.people)} people. You can leave this page.
            </Typography>
            <LinearProgress variant="determinate" value={share} aria-label="Progress" />
            {replay.state !== "undoing" && (
              <div>
                <Button onClick={() => onAct("stop")}>Stop</Button>
              </div>
            )}
          </Stack>
        </BandRow>
      </Band>
    );
  }
  return (
    <>
      <Band name={TITLES[replay.state] ?? replay.state} note={`by revision ${replay.revision}`}>
        <BandRow>
          <Typography role="status">
            {counted(replay.submissions, "submission", "submissions")} of{" "}
            {counted(replay.people, "person", "people")}:{" "}
            {changed === 0 ? (
              <strong>nothing changes.</strong>
            ) : (
              <>
                <strong>{counted(changed, "person changes", "people change")}</strong>; {words}.
              </>
            )}
            {Boolean(replay.counts["made"]) &&
              ` ${counted(replay.counts["made"] ?? 0, "person is", "people are")} new.`}
          </Typography>
          {replay.failure && <Typography color="error">{replay.failure}</Typography>}
          {mayChange && (
            <Stack direction="row" spacing={1} sx={{ pt: 1 }}>
              {["seen", "stopped", "failed"].includes(replay.state) && changed > 0 && (
                <Button variant="contained" onClick={() => onAct("run")}>
                  {replay.state === "seen"
                    ? `Carry it out for ${counted(changed, "person", "people")}`
                    : "Go on"}
                </Button>
              )}
              {["done", "stopped"].includes(replay.state) && (
                <Button variant="outlined" onClick={() => onAct("undo")}>
                  Undo this replay
                </Button>
              )}
            </Stack>
          )}
          {replay.state === "done" && (
            <Typography variant="caption" color="textSecondary">
              Undoing takes back every fact that still stands as the replay left it. What was sent
              stays sent, and sequences that it ended stay ended.
            </Typography>
          )}
        </BandRow>
      </Band>
      {(changed > 0 || Boolean(replay.counts["left"])) && <Lines replay={replay} />}
    </>
  );
}

const TITLES: Record<string, string> = {
  seen: "What would change",
  stopped: "Stopped",
  done: "Done",
  undone: "Undone",
  failed: "Stopped at a fault",
};

function Lines({ replay }: { replay: Replay }) {
  const at = `/w/${useSlug()}`;
  const [shown, setShown] = useState<Kind | "left">(replay.counts["changed"] ? "" : "left");
  const what = shown === "left" ? "left" : "changed";
  const pages = useReplayLines(replay, what, shown === "left" ? "" : shown);
  const rows = pages.data?.pages.flatMap((page) => page.lines) ?? [];
  return (
    <Band name="Each person" id="people">
      <ToggleButtonGroup
        exclusive
        size="small"
        value={shown}
        aria-label="What is shown"
        onChange={(_, value: Kind | "left" | null) => setShown(value ?? "")}
        sx={{ pl: 1.5, pb: 1 }}
      >
        <ToggleButton value="">Everybody who changes</ToggleButton>
        <ToggleButton value="adds">Adds</ToggleButton>
        <ToggleButton value="changes">Changes</ToggleButton>
        <ToggleButton value="removes">Takes away</ToggleButton>
        <ToggleButton value="left">Left as it is</ToggleButton>
      </ToggleButtonGroup>
      {pages.data && rows.length === 0 ? (
        <BandRow>Nobody.</BandRow>
      ) : (
        <ScrollTable size="small" sx={{ bgcolor: "background.paper" }}>
          <TableHead>
            <TableRow>
              <TableCell sx={{ pl: 1.5 }}>Person</TableCell>
              <TableCell>Submissions</TableCell>
              <TableCell>{shown === "left" ? "What stays, and why" : "What changes"}</TableCell>
            </TableRow>
          </TableHead>
          <TableBody>
            {rows.map((one) => (
              <TableRow key={one.number}>
                <TableCell sx={{ pl: 1.5, overflowWrap: "anywhere" }}>
                  {one.person ? (
                    <Link to={`${at}/people/${one.person}`}>{one.address}</Link>
                  ) : (
                    one.address || "nobody yet"
                  )}
                </TableCell>
                <TableCell>
                  {one.submissions.map((submission, index) => (
                    <span key={submission}>
                      {index > 0 && ", "}
                      <Link to={`${at}/submissions/${submission}`}>{index + 1}</Link>
                    </span>
                  ))}
                </TableCell>
                <TableCell>
                  {shown === "left" ? (
                    <Typography variant="body2">{one.kept.join("; ")}</Typography>
                  ) : (
                    <EffectWords effects={one.effects} />
                  )}
                </TableCell>
              </TableRow>
            ))}
          </TableBody>
        </ScrollTable>
      )}
      <ShowMore pages={pages} />
    </Band>
  );
}
