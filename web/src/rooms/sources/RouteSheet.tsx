import { useParams } from "react-router";
import { Loading } from "../../parts/Loading";
import { RouteEditor } from "./RouteEditor";
import { useSource } from "./useSource";

/** The sheet of a source: the main view. */
export function RouteSheet() {
  const { source = "" } = useParams();
  const { data, error } = useSource(source);
  if (!data) return <Loading error={error} />;
  return <RouteEditor key={data.id} source={data} />;
}
