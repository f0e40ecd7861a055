import { useQuery } from "@tanstack/react-query";
import { useParams } from "react-router";
import { broadcastQuery } from "../../api/broadcasts";
import { useCatalogue, useSlug } from "../../api/workspace";
import { Loading } from "../../parts/Loading";
import { BroadcastEditor } from "./BroadcastEditor";
import { BroadcastReport } from "./BroadcastReport";

/** A broadcast: written and planned, or as it goes. */
export function BroadcastSheet() {
  const { broadcast = "" } = useParams();
  const { data: catalogue } = useCatalogue();
  const { data, error } = useQuery({
    ...broadcastQuery(useSlug(), broadcast),
    refetchOnWindowFocus: false,
  });
  if (!data || !catalogue) return <Loading error={error} />;
  if (data.state === "draft")
    return <BroadcastEditor key={data.id} broadcast={data} catalogue={catalogue} />;
  return <BroadcastReport broadcast={data} />;
}
