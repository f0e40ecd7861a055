import { useQuery } from "@tanstack/react-query";
import { api, take } from "../../api/client";
import { useSlug } from "../../api/workspace";

/** A sequence with its sheet and its counts. */
export function useSequence(sequence: string) {
  const workspace = useSlug();
  return useQuery({
    queryKey: ["sequence", workspace, sequence],
    queryFn: () =>
      take(
        api.GET("/api/workspaces/{workspace}/sequences/{sequence}", {
          params: { path: { workspace, sequence } },
        }),
      ),
    refetchInterval: 10_000,
  });
}

/** The rules of routes that start a sequence. */
export function useRoutes(sequence: string) {
  const workspace = useSlug();
  return useQuery({
    queryKey: ["sources", workspace, "doors", sequence],
    queryFn: () =>
      take(
        api.GET("/api/workspaces/{workspace}/sequences/{sequence}/doors", {
          params: { path: { workspace, sequence } },
        }),
      ),
  });
}
