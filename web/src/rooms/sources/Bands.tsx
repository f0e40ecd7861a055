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
}

export interface BandsProps {
  source: Pick<Schemas["SourceOut"], "id" | "address" | "arrivals" | "state">;
  document: RouteDocument;
  edit: Edit;
  catalogue: Schemas["CatalogueOut"];
  /** What the server decided about the sample; none where no sample is shown. */
  sample: Schemas["SampleOut"] | undefined;
  findings: Schemas["Finding"][];
  readOnly: boolean;
  answers: Answer[];
  onType: (answers: Answer[]) => void;
  choice?: SampleChoice;
}

/** The five bands of a route, in the order in which a submission travels. */
export function Bands(props: BandsProps) {
  return (
    <>
      <Arrives {...props} />
      <ReadAs {...props} />
      <Consent {...props} />
      <Then {...props} />
      <VisitorSees {...props} />
    </>
  );
}
