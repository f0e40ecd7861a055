import { queryOptions } from "@tanstack/react-query";
import { api, take } from "./client";

/** All frozen groups, the newest first. */
export const groupsQuery = (workspace: string) =>
  queryOptions({
    queryKey: ["groups", workspace],
    queryFn: () =>
      take(api.GET("/api/workspaces/{workspace}/groups", { params: { path: { workspace } } })),
  });
