import { useAttempt } from "../../api/useAttempt";
import Button from "@mui/material/Button";
import Typography from "@mui/material/Typography";
import { Link, useParams, useSearchParams } from "react-router";
import { api, take, type Schemas } from "../../api/client";
import { useMayChange, useReload, useSlug } from "../../api/workspace";
import { Band, BandRow } from "../../parts/Band";
import { Loading } from "../../parts/Loading";
import { counted, useMoments } from "../../parts/moment";
import { Problem } from "../../parts/Problem";
import { Sheet } from "../../parts/Sheet";
import { RouteState } from "../sources/RouteState";
import { useSource } from "../sources/useSource";
import { ReplayChoice } from "./ReplayChoice";
import { ReplayResult } from "./ReplayResult";
import { useReplays, type Replay } from "./useReplay";

/** Deciding submissions again by today's route: chosen, seen, carried out, undone. */
export function ReplaySheet() {
  const workspace = useSlug();
  const { source: id = "" } = useParams();
  const [params, setParams] = useSearchParams();
  const mayChange = useMayChange();
  const reload = useReload();
  const moments = useMoments();
  const { data: source, error } = useSource(id);
  const { data: replays } = useReplays(id);
  const { attempt, failed } = useAttempt();
  if (!source || !replays) return <Loading error={error} />;
  const shown = replays.find((one) => one.id === params.get("replay"));
  const show = (replay: string | null) => {
    const next = new URLSearchParams(params);
    if (replay) next.set("replay", replay);
    else next.delete("replay");
    setParams(next, { replace: replay === null });
  };
  const act = async (asked: () => Promise<Replay>) => {
    const done = await attempt(async () => {
      const answer = await asked();
      await reload("replays", "replay-lines", "people", "person", "submissions", "snags");
      show(answer.id);
    });
    if (!done) await reload("replays");
  };
  const look = (body: Schemas["ReplayIn"]) =>
    act(() =>
      take(
        api.POST("/api/workspaces/{workspace}/sources/{source}/replays", {
          params: { path: { workspace, source: id } },
          body,
        }),
      ),
    );
  const step = (what: "run" | "stop" | "undo", replay: string) =>
    act(() =>
      take(
        api.POST(`/api/workspaces/{workspace}/replays/{replay}/${what}`, {
          params: { path: { workspace, replay } },
        }),
      ),
    );
  const chosen = params.get("submissions")?.split(",").filter(Boolean) ?? [];
  const snag = params.get("snag");
  return (
    <Sheet
      title="Replay"
      name={`Replay of ${source.name}`}
      back={{ to: `/w/${workspace}/sources/${id}`, label: source.name }}
      state={<RouteState source={source} />}
      actions={shown && mayChange && <Button onClick={() => show(null)}>Another replay</Button>}
    >
      <Typography variant="body2" color="textSecondary" sx={{ pt: 1.5, maxWidth: "72ch" }}>
        After a mistake in a route, what came in can be decided again by the route as it is live
        now. You see first what that changes, and can undo it.
      </Typography>
      <Problem error={failed} />
      {source.state === "draft" && (
        <Typography sx={{ py: 2 }}>
          Turn the route on first: a draft is rehearsed instead.
        </Typography>
      )}
      {shown ? (
        <ReplayResult replay={shown} onAct={(what) => void step(what, shown.id)} />
      ) : (
        source.state !== "draft" &&
        mayChange && (
          <ReplayChoice
            source={source}
            given={{ submissions: chosen, ...(snag && { snag }) }}
            onLook={(wanted) => void look(wanted)}
            onForget={() => setParams({}, { replace: true })}
          />
        )
      )}
      {replays.length > 0 && (
        <Band name="Before" note="replays of this source">
          {replays.map((one, index) => (
            <BandRow key={one.id} ruled={index > 0}>
              <Typography variant="body2">
                {one.id === shown?.id ? (
                  <strong>{moments.moment(one.created_at)}</strong>
                ) : (
                  <Link to={`?replay=${one.id}`}>{moments.moment(one.created_at)}</Link>
                )}{" "}
                by {one.member_name || "a member"}: {WORDS[one.state] ?? one.state},{" "}
                {one.counts["changed"]
                  ? counted(one.counts["changed"], "person changes", "people change")
                  : "nothing changes"}
              </Typography>
            </BandRow>
          ))}
        </Band>
      )}
    </Sheet>
  );
}

const WORDS: Record<string, string> = {
  looking: "being looked at",
  seen: "looked at, not carried out",
  running: "being carried out",
  stopped: "stopped",
  done: "carried out",
  undoing: "being undone",
  undone: "undone",
  failed: "stopped at a fault",
};
