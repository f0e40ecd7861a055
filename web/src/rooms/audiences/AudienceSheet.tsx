import { useQuery } from "@tanstack/react-query";
import { useParams } from "react-router";
import { audienceQuery } from "../../api/audiences";
import { useCatalogue, useSlug } from "../../api/workspace";
import { Loading } from "../../parts/Loading";
import { AudienceEditor } from "./AudienceEditor";

/** An audience: who is in it, how many they are, and ten of them with why. */
export function AudienceSheet() {
  const { audience = "" } = useParams();
  const { data: catalogue } = useCatalogue();
  const { data, error } = useQuery({
    ...audienceQuery(useSlug(), audience),
    refetchOnWindowFocus: false,
  });
  if (!data || !catalogue) return <Loading error={error} />;
  return <AudienceEditor key={data.id} audience={data} catalogue={catalogue} />;
}
