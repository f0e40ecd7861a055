import type { Schemas } from "../../api/client";
import { Arrives } from "./Arrives";
import { Consent } from "./Consent";
import { ReadAs } from "./ReadAs";
import type { Answer, Edit, RouteDocument } from "./routeDocument";
import { Then } from "./Then";
import { VisitorSees } from "./VisitorSees";

export interface SampleChoice {
  submissions: Schemas["SubmissionLine"][];
  chosen: string;
  onChoose: (submission: string) => void;
  onTypeOne: () => void;
  /** Sends the sample the whole way, to the member's own inbox. */
  onTest: (() => Promise<unknown>) | undefined;
}

export interface BandsProps {
  source: Schemas["SourceOut"];
  document: RouteDocument;
  edit: Edit;
  catalogue: Schemas["CatalogueOut"];
  /** What the server decided about the sample; none where no sample is shown. */
  sample: Schemas["SampleOut"] | undefined;
  findings: Schemas["Finding"][];
  readOnly: boolean;
  answers: Answer[];
  onType: (answers: Answer[]) => void;
  /** The questions as they came in lately. */
  seen: Schemas["SeenQuestion"][];
  /** Counts the saves of the draft, so that what shows it can follow. */
  edits: number;
  choice?: SampleChoice;
}

/** The bands of a route, in the order in which a submission travels; five where somebody waits. */
export function Bands(props: BandsProps) {
  return (
    <>
      <Arrives {...props} />
      <ReadAs {...props} />
      <Consent {...props} />
      <Then {...props} />
      {(props.source.kind === "form" || props.source.kind === "posted") && (
        <VisitorSees {...props} />
      )}
    </>
  );
}
