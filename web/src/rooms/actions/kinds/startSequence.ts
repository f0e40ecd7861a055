import type { ActionKind } from "../ActionKind";
import { StartAction } from "../StartAction";

/** Lets people into a sequence. */
export const startSequence: ActionKind<"start_sequence"> = {
  words: "Start a sequence",
  make: () => ({ kind: "start_sequence", sequence: null, lane: null }),
  Form: StartAction,
};
