import type { Schemas } from "../../api/client";
import type { Asked } from "../sources/asked";

/** What every part of a condition stands in. */
export interface ConditionContext {
  catalogue: Schemas["CatalogueOut"];
  /** The questions of the submission, where there is one; none where everybody is meant. */
  asked: Asked[];
  readOnly: boolean;
}
