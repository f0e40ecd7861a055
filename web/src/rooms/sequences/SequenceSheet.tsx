import { useParams } from "react-router";
import { useCatalogue } from "../../api/workspace";
import { Loading } from "../../parts/Loading";
import { SequenceEditor } from "./SequenceEditor";
import { useSequence } from "./useSequence";

/** The sheet of a sequence. */
export function SequenceSheet() {
  const { sequence = "" } = useParams();
  const { data: catalogue } = useCatalogue();
  const { data, error } = useSequence(sequence);
  if (!data || !catalogue) return <Loading error={error} />;
  return <SequenceEditor key={data.id} sequence={data} catalogue={catalogue} />;
}
