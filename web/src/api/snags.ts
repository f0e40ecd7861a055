import { queryOptions } from "@tanstack/react-query";
import { api, take } from "./client";

/** What went wrong, by cause. */
export const snagsQuery = (workspace: string) =>
  queryOptions({
    queryKey: ["snags", workspace],
    queryFn: () =>
      take(api.GET("/api/workspaces/{workspace}/snags", { params: { path: { workspace } } })),
  });
