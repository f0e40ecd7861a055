import type { Action, ActionKind } from "./ActionKind";
import { changeScore } from "./kinds/changeScore";
import { changeSubscription } from "./kinds/changeSubscription";
import { handOver } from "./kinds/handOver";
import { makeTask } from "./kinds/makeTask";
import { notify } from "./kinds/notify";
import { putField } from "./kinds/putField";
import { recordEvent } from "./kinds/recordEvent";
import { sendNow } from "./kinds/sendNow";
import { setOwner } from "./kinds/setOwner";
import { startSequence } from "./kinds/startSequence";
import { stopSequence } from "./kinds/stopSequence";
import { tagByAnswer } from "./kinds/tagByAnswer";
import { tagFromAnswer } from "./kinds/tagFromAnswer";
import { addTags, removeTags } from "./kinds/tags";

/** Every kind of action, in the order in which they are offered. One more is one more file. */
export const ACTIONS: { [Kind in Action["kind"]]: ActionKind<Kind> } = {
  add_tags: addTags,
  tag_by_answer: tagByAnswer,
  tag_from_answer: tagFromAnswer,
  remove_tags: removeTags,
  put_field: putField,
  change_score: changeScore,
  record_event: recordEvent,
  change_subscription: changeSubscription,
  start_sequence: startSequence,
  stop_sequence: stopSequence,
  send_now: sendNow,
  set_owner: setOwner,
  make_task: makeTask,
  notify,
  hand_over: handOver,
};

/** The kinds as they are offered: each with what it is called. */
export const OFFERED = (Object.keys(ACTIONS) as Action["kind"][]).map(
  (kind): [Action["kind"], string] => [kind, ACTIONS[kind].words],
);

/** An action of a kind, with nothing chosen yet. */
export function newAction(kind: Action["kind"], question: string): Action {
  return ACTIONS[kind].make(question);
}
