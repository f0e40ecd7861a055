import type { Group, Leaf } from "./condition";

const only = (leaf: Leaf): Group => ({ kind: "all", of: [leaf] });

/** Who has a tag. */
export const tagged = (tag: string) => only({ kind: "tag", tag, has: true });

/** Who is subscribed to a list. */
export const subscribedTo = (list: string) =>
  only({ kind: "membership", list, states: ["subscribed"], holds: true });

/** Who is in a sequence now, or ever was. */
export const inSequence = (sequence: string, state: "under_way" | "ever") =>
  only({ kind: "run", sequence, state });

/** Where those are shown whom a condition fits. */
export const peopleWho = (workspace: string, condition: Group) =>
  `/w/${workspace}/people?who=${encodeURIComponent(JSON.stringify(condition))}`;
