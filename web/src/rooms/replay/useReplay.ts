import { follows } from "../../api/stream";
import { useInfiniteQuery, useQuery } from "@tanstack/react-query";
import { replayLinesQuery, replaysQuery } from "../../api/replays";
import { type Schemas } from "../../api/client";
import { useSlug } from "../../api/workspace";

export type Replay = Schemas["ReplayOut"];
export type Kind = "" | "adds" | "changes" | "removes";

/** Whether the server is at it, so that the screen has to follow. */
export const isWorking = (replay: Replay) =>
  ["looking", "running", "undoing"].includes(replay.state);

/** The replays of a source, the newest first. */
export function useReplays(source: string) {
  const workspace = useSlug();
  return useQuery({
    ...replaysQuery(workspace, source),
    ...follows(["replays"], 1_000),
  });
}

/** The people of a replay who change, or those of whom something is left as it is. */
export function useReplayLines(replay: Replay, what: "changed" | "left", kind: Kind) {
  const workspace = useSlug();
  return useInfiniteQuery({
    ...replayLinesQuery(workspace, replay, what, kind),
    enabled: !isWorking(replay),
  });
}
