import { useQuery } from "@tanstack/react-query";
import { api, take } from "../../api/client";
import { useSlug } from "../../api/workspace";

/** The open snags, the newest first. */
export function useOpenSnags() {
  const workspace = useSlug();
  return useQuery({
    queryKey: ["snags", workspace],
    queryFn: () =>
      take(api.GET("/api/workspaces/{workspace}/snags", { params: { path: { workspace } } })),
    refetchInterval: 15_000,
  });
}
