import type { Schemas } from "../../api/client";
import type { Asked } from "./asked";
import type { Question } from "./routeDocument";
import type { Action } from "./ruleActions";

/** What the form of every action is given. */
export interface ActionFormProps<One extends Action = Action> {
  action: One;
  catalogue: Schemas["CatalogueOut"];
  /** The questions that have choices. */
  questions: Question[];
  asked: Asked[];
  /** A name for a tag that fits what the rule does. */
  suggests: string;
  readOnly: boolean;
  onChange: (action: Action) => void;
}
