import { queryOptions } from "@tanstack/react-query";
import { api, take } from "./client";

/** What the desk shows. */
export const deskQuery = (workspace: string) =>
  queryOptions({
    queryKey: ["desk", workspace],
    queryFn: () =>
      take(api.GET("/api/workspaces/{workspace}/desk", { params: { path: { workspace } } })),
  });
