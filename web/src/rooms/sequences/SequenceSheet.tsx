import { useParams } from "react-router";
import { isComing } from "../../api/isComing";
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
  const coming = isComing(useRoutes(sequence));
  if (!data || !catalogue || coming) return <Loading error={error} />;
  return <SequenceEditor key={data.id} sequence={data} catalogue={catalogue} />;
}
