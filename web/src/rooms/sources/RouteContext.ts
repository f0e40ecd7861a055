import { createContext, useContext } from "react";
import type { Schemas } from "../../api/client";
import type { Answer, Edit, RouteDocument } from "./routeDocument";

/** The submissions to choose a sample from, and what can be done with it. */
export interface SampleChoice {
  submissions: Schemas["SubmissionLine"][];
  chosen: string;
  onChoose: (submission: string) => void;
  onTypeOne: () => void;
  /** Sends the sample the whole way, to the member's own inbox. */
  onTest: (() => Promise<unknown>) | undefined;
  /** Told whether the place where it is chosen is in sight; so too where there is none. */
  onSight: (inSight: boolean) => void;
}

/** What every band of a route shows and changes. */
export interface RouteShown {
  source: Schemas["SourceOut"];
  document: RouteDocument;
  edit: Edit;
  catalogue: Schemas["CatalogueOut"];
  /** What the server decided about the sample; none where no sample is shown. */
  sample: Schemas["SampleOut"] | undefined;
  findings: Schemas["Finding"][];
  /** Each rule as a sentence, by its id. */
  words: Record<string, Schemas["RuleWords"]>;
  readOnly: boolean;
  answers: Answer[];
  onType: (answers: Answer[]) => void;
  /** The questions as they came in lately. */
  seen: Schemas["SeenQuestion"][];
  /** Counts the saves of the draft, so that what shows it can follow. */
  edits: number;
  choice?: SampleChoice;
}

const NONE = undefined as RouteShown | undefined;

/** The route whose bands are shown. */
export const RouteContext = createContext(NONE);

/** The route whose band this is. */
export function useRoute(): RouteShown {
  const route = useContext(RouteContext);
  if (!route) throw new Error("A band stands in a route.");
  return route;
}
