import type { ActionKind } from "../ActionKind";
import { StopAction } from "../StopAction";

/** Takes people out of a sequence. */
export const stopSequence: ActionKind<"stop_sequence"> = {
  words: "Stop a sequence",
  make: () => ({ kind: "stop_sequence", sequence: null, every_sequence: false }),
  Form: StopAction,
};
