import type { Schemas } from "../../api/client";
import { newId } from "../../parts/newId";
import { END } from "./sequenceDocument";

/** A branch of a split, with nothing chosen yet. */
export function newBranch(): Schemas["SplitBranch"] {
  return { id: newId("b"), name: "", when: { kind: "all", of: [] }, way: END };
}
