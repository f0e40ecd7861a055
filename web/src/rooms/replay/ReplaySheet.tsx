import { counted } from "../../parts/formats";
import { useAttempt } from "../../api/useAttempt";
import Button from "@mui/material/Button";
import Typography from "@mui/material/Typography";
import { Link, useParams } from "react-router";
import { parseAsArrayOf, parseAsString, useQueryStates } from "nuqs";
import { api, take, type Schemas } from "../../api/client";
import { useMayChange, useReload, useSlug } from "../../api/workspace";
import { Band, BandRow } from "../../parts/Band";
import { Loading } from "../../parts/Loading";
import { useMoments } from "../../parts/moment";
import { Problem } from "../../parts/Problem";
import { Sheet } from "../../parts/Sheet";
import { RouteState } from "../sources/RouteState";
import { useSource } from "../sources/useSource";
import { ReplayChoice } from "./ReplayChoice";
import { ReplayResult } from "./ReplayResult";
import { useReplays, type Replay } from "./useReplay";

/** The replay that is shown, and what was chosen to be replayed, in the address of the screen. */
const ASKED = {
  replay: parseAsString,
  submissions: parseAsArrayOf(parseAsString).withDefault([]),
  snag: parseAsString,
};

/** Deciding submissions again by today's route: chosen, seen, carried out, undone. */
export function ReplaySheet() {
  const workspace = useSlug();
  const { source: id = "" } = useParams();
  const [asked, setAsked] = useQueryStates(ASKED);
  const mayChange = useMayChange();
  const reload = useReload();
  const moments = useMoments();
  const { data: source, error } = useSource(id);
  const { data: replays } = useReplays(id);
  const { attempt, failed } = useAttempt();
  if (!source || !replays) return <Loading error={error} />;
  const shown = replays.find((one) => one.id === asked.replay);
  const show = (replay: string | null) => {
    void setAsked({ replay }, { history: replay === null ? "replace" : "push" });
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
  const { submissions, snag } = asked;
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
            given={{ submissions, ...(snag && { snag }) }}
            onLook={(wanted) => void look(wanted)}
            onForget={() => void setAsked(null)}
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
