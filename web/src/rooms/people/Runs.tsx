import { counted } from "../../parts/formats";
import { useAttempt } from "../../api/useAttempt";
import Button from "@mui/material/Button";
import Typography from "@mui/material/Typography";
import { useQuery } from "@tanstack/react-query";
import { Link } from "react-router";
import { personRunsQuery } from "../../api/people";
import { type Schemas } from "../../api/client";
import { useMayChange, useReload, useSlug } from "../../api/workspace";
import { Band, BandRow } from "../../parts/Band";
import { useMoments } from "../../parts/moment";
import { Problem } from "../../parts/Problem";
import { tryAgain } from "../sequences/tryAgain";
import { ENDED } from "../sequences/words";

/** Where the person is in each sequence. */
export function Runs({ person }: { person: string }) {
  const workspace = useSlug();
  const moments = useMoments();
  const mayChange = useMayChange();
  const reload = useReload();
  const { attempt, failed } = useAttempt();
  const { data, error } = useQuery(personRunsQuery(workspace, person));
  const again = async (run: string) => {
    await attempt(async () => {
      await tryAgain(workspace, run);
      await reload("person", "runs", "sequence", "sequences", "desk", "snags");
    });
  };
  const now = data?.filter((one) => !one.ended).length ?? 0;
  return (
    <Band name="Sequences" note={now > 0 ? `${counted(now, "sequence", "sequences")} now` : ""}>
      <Problem error={error ?? failed} />
      {data?.length === 0 && <BandRow>In no sequence.</BandRow>}
      {data?.map((one, index) => (
        <BandRow key={one.sequence + one.entered_at} ruled={index > 0}>
          <Typography>
            <Link to={`/w/${workspace}/sequences/${one.sequence}`}>{one.name}</Link>{" "}
            <Typography component="span" variant="body2" color="textSecondary">
              entered {moments.moment(one.entered_at)} · {place(one, moments.moment)}
            </Typography>
          </Typography>
          {one.held && (
            <Typography variant="body2" color="error">
              Cannot go on: {one.held}{" "}
              {mayChange && !one.ended && (
                <Button onClick={() => void again(one.run)}>Try again</Button>
              )}
            </Typography>
          )}
        </BandRow>
      ))}
    </Band>
  );
}

function place(run: Schemas["PersonRun"], moment: (iso: string) => string): string {
  if (run.ended) {
    return `${ENDED[run.ended] ?? run.ended}${run.ended_at ? ` ${moment(run.ended_at)}` : ""}`;
  }
  const at = `lane ${run.lane}, step ${run.step} of ${run.of}`;
  if (run.held) return at;
  if (!run.due_at || !run.what) return at;
  const why = run.moved.map((one) => one.why).join(", ");
  const next = run.what === "send" ? "next email" : "waiting until";
  return `${at}: ${next} ${moment(run.due_at)}${why ? ` (moved: ${why})` : ""}`;
}
