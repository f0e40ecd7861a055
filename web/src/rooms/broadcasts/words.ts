import type { Schemas } from "../../api/client";

type State = Schemas["BroadcastOut"]["state"];

/** Where a broadcast stands, in words. */
export const STATES: Record<State, string> = {
  draft: "in preparation",
  asked: "waits for approval",
  waiting: "about to go",
  trying: "trying its versions",
  going: "going out",
  trying_paused: "paused",
  going_paused: "paused",
  done: "sent",
  stopped: "stopped",
};

/** Whether nothing of it has gone out yet, so that it is planned and not reported. */
export const isPlanned = (state: State) => ["draft", "asked", "waiting"].includes(state);

/** The mark that goes with the word. */
export const markOf = (state: State) =>
  state === "draft" || state === "asked"
    ? "draft"
    : state.endsWith("paused")
      ? "paused"
      : state === "stopped"
        ? "unsubscribed"
        : "live";
