import { follows } from "../../api/stream";
import { useQuery } from "@tanstack/react-query";
import { snagsQuery } from "../../api/snags";
import { useSlug } from "../../api/workspace";

/** The open snags, the newest first. */
export function useOpenSnags() {
  const workspace = useSlug();
  return useQuery({ ...snagsQuery(workspace), ...follows(["snags"], 3_000) });
}
