import { queryOptions, useQuery, useQueryClient } from "@tanstack/react-query";
import { useParams } from "react-router";
import { api, take } from "./client";
import { follows } from "./stream";

/** The slug of the workspace in the address. */
export function useSlug(): string {
  return useParams()["workspace"] ?? "";
}

/** The workspace's settings, its time, and the member's role. */
export const workspaceQuery = (workspace: string) =>
  queryOptions({
    queryKey: ["workspace", workspace],
    queryFn: () =>
      take(api.GET("/api/workspaces/{workspace}", { params: { path: { workspace } } })),
    ...follows(["workspace"], 1_000),
  });

/** Everything that a document can refer to: fields, tags, lists, sequences, messages. */
export const catalogueQuery = (workspace: string) =>
  queryOptions({
    queryKey: ["catalogue", workspace],
    queryFn: () =>
      take(api.GET("/api/workspaces/{workspace}/catalogue", { params: { path: { workspace } } })),
  });

/** The workspace's settings, its time, and the member's role. */
export function useWorkspace() {
  return useQuery(workspaceQuery(useSlug()));
}

/** Everything that a document can refer to: fields, tags, lists, sequences, messages. */
export function useCatalogue() {
  return useQuery(catalogueQuery(useSlug()));
}

/** Load again what changed somewhere else on the screen. */
export function useReload() {
  const client = useQueryClient();
  return (...keys: string[]) =>
    Promise.all(keys.map((key) => client.invalidateQueries({ queryKey: [key] })));
}

/** Loads all again that is shown: a name stands in more places than anybody could list. */
export function useReloadAll() {
  const client = useQueryClient();
  return () => client.invalidateQueries();
}

/** Whether the member may change things. */
export function useMayChange(): boolean {
  const { data } = useWorkspace();
  return data !== undefined && data.role !== "reader";
}
