import { SplitForm as Form } from "../SplitForm";
import { newBranch } from "../branches";
import { ON } from "../sequenceDocument";
import type { StepKind } from "../stepParts";

/** Splits by conditions, in order. */
export const splitStep: StepKind<"split"> = {
  words: "Split by conditions",
  make: (id) => ({ kind: "split", id, of: [newBranch()], otherwise: ON }),
  Form,
};
