import { useParams } from "react-router";
import { useAllCome } from "../../api/useAllCome";
import { useCatalogue } from "../../api/workspace";
import { Loading } from "../../parts/Loading";
import { SequenceEditor } from "./SequenceEditor";
import { useRoutes, useSequence } from "./useSequence";

/** The sheet of a sequence. */
export function SequenceSheet() {
  const { sequence = "" } = useParams();
  const { data: catalogue } = useCatalogue();
  const { data, error } = useSequence(sequence);
  // The rules that lead here stand above the lanes.
  const allCome = useAllCome(sequence, [useRoutes(sequence)]);
  if (!data || !catalogue || !allCome) return <Loading error={error} />;
  return <SequenceEditor key={data.id} sequence={data} catalogue={catalogue} />;
}
