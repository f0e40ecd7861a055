import Typography from "@mui/material/Typography";
import type { StepKind } from "../stepParts";

function Form() {
  return <Typography variant="body2">People who reach this step leave the sequence.</Typography>;
}

/** Ends the sequence. */
export const stopStep: StepKind<"stop"> = {
  words: "Stop here",
  make: (id) => ({ kind: "stop", id }),
  Form,
};
