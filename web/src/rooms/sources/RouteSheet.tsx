import { skipToken, useQuery } from "@tanstack/react-query";
import { useParams } from "react-router";
import { fileRowsQuery, filesQuery, hookQuery, watchQuery } from "../../api/sources";
import type { Schemas } from "../../api/client";
import { useAllCome } from "../../api/useAllCome";
import { useCatalogue, useSlug } from "../../api/workspace";
import { Loading } from "../../parts/Loading";
import { showsRows } from "./file/useFiles";
import { RouteEditor } from "./RouteEditor";
import { useLately, useSeen, useSource } from "./useSource";

/** The sheet of a source: the main view. It shows when all that it shows first is there. */
export function RouteSheet() {
  const { source = "" } = useParams();
  const asked = useSource(source);
  const { data, error } = asked;
  const first = [asked, useCatalogue(), useLately(source), useSeen(source)];
  const allCome = useAllCome(source, [...first, ...useArrivals(source, data)]);
  if (!data || !allCome) return <Loading error={error} />;
  return <RouteEditor key={data.id} source={data} />;
}

/** What the first band of its kind shows. */
function useArrivals(source: string, data: Schemas["SourceOut"] | undefined) {
  const workspace = useSlug();
  const kind = data?.kind;
  const files = useQuery({ ...filesQuery(workspace, source), enabled: kind === "file" });
  const file = files.data?.[0];
  return [
    files,
    useQuery({ ...hookQuery(workspace, source), enabled: kind === "webhook" }),
    useQuery({ ...watchQuery(workspace, source), enabled: kind === "sheet" }),
    useQuery(
      data && file && showsRows(file)
        ? fileRowsQuery(workspace, file, data.document)
        : { queryKey: ["file-rows", workspace, source], queryFn: skipToken },
    ),
  ];
}
