import { ChanceForm as Form } from "../ChanceForm";
import { newId } from "../../../parts/newId";
import { ON } from "../sequenceDocument";
import type { StepKind } from "../stepParts";

/** Splits by chance, the same person always alike. */
export const chanceStep: StepKind<"chance"> = {
  words: "Split by chance",
  make: (id) => ({
    kind: "chance",
    id,
    of: [
      { id: newId("b"), name: "A", weight: 1, way: ON },
      { id: newId("b"), name: "B", weight: 1, way: ON },
    ],
  }),
  Form,
};
