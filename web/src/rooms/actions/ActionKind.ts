import type { ComponentType } from "react";
import type { Schemas } from "../../api/client";
import type { Asked } from "../sources/asked";
import type { Question, Rule } from "../sources/routeDocument";

export type Action = Rule["action"];
export type ActionOf<Kind extends Action["kind"]> = Extract<Action, { kind: Kind }>;

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
  onChange: (action: One) => void;
}

/** A kind of action: what it is called, one with nothing chosen yet, and the form that fills it. */
export interface ActionKind<Kind extends Action["kind"]> {
  words: string;
  /** `question`: the one that the sheet would offer first. */
  make: (question: string) => ActionOf<Kind>;
  Form: ComponentType<ActionFormProps<ActionOf<Kind>>>;
}
