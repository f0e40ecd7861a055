import { useQuery } from "@tanstack/react-query";
import { useParams } from "react-router";
import { api, take } from "../../api/client";
import { useCatalogue, useSlug } from "../../api/workspace";
import { Loading } from "../../parts/Loading";
import { SequenceEditor } from "./SequenceEditor";

/** The sheet of a sequence. */
export function SequenceSheet() {
  const workspace = useSlug();
  const { sequence = "" } = useParams();
  const { data: catalogue } = useCatalogue();
  const { data, error } = useQuery({
    queryKey: ["sequence", workspace, sequence],
    queryFn: () =>
      take(
        api.GET("/api/workspaces/{workspace}/sequences/{sequence}", {
          params: { path: { workspace, sequence } },
        }),
      ),
    refetchInterval: 10_000,
  });
  if (!data || !catalogue) return <Loading error={error} />;
  return <SequenceEditor key={data.id} sequence={data} catalogue={catalogue} />;
}
