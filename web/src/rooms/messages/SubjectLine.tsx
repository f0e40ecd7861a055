import Chip from "@mui/material/Chip";
import { Fragment } from "react";
import { useCatalogue } from "../../api/workspace";
import { linePieces } from "./liquid";

/** A subject for reading: what is filled in for each person stands as a chip with its label. */
export function SubjectLine({ subject }: { subject: string }) {
  const { data: catalogue } = useCatalogue();
  const labels = new Map(catalogue?.fields.map((one) => [one.key, one.label]));
  return linePieces(subject).map((piece, index) => (
    <Fragment key={index}>
      {"words" in piece ? (
        piece.words
      ) : (
        <Chip
          component="span"
          size="small"
          variant="outlined"
          label={labels.get(piece.field) ?? piece.field.replaceAll("_", " ")}
          sx={{ height: 20 }}
        />
      )}
    </Fragment>
  ));
}
