import type { ComponentType } from "react";
import type { Schemas } from "../../../api/client";
import type { Question } from "../routeDocument";

export interface SettingsProps {
  question: Question;
  set: (change: Partial<Question>) => void;
}

/** What one type of question is, wherever it is shown, edited, tried or written as HTML. */
export interface QuestionKind {
  /** As people read it. */
  name: string;
  /** The type of a new field for its answers. */
  field: Schemas["FieldIn"]["type"];
  /** An answer that a visitor might give, for a sample that is typed in. */
  example: (question: Question) => string;
  /** Its input in plain HTML. */
  html: "text" | "email" | "tel" | "date" | "url" | "textarea" | "hidden" | "chosen" | "box";
  /** What is set for it besides the label, the name and the help. */
  Settings?: ComponentType<SettingsProps>;
  /** What its label says, where that is no question. */
  labelled?: string;
  /** What its help stands below. */
  helps?: string;
  /** Whether nobody sees it. */
  unseen?: boolean;
  /** Whether it can begin with a value; a box to tick never begins ticked. */
  begins: boolean;
  /** Whether its answer can come from a parameter of the page. */
  fromPage: boolean;
}
