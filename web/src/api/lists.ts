import { queryOptions } from "@tanstack/react-query";
import { api, take } from "./client";

/** How a list confirms. */
export const confirmingQuery = (workspace: string, list: string) =>
  queryOptions({
    queryKey: ["catalogue", workspace, "confirming", list],
    queryFn: () =>
      take(
        api.GET("/api/workspaces/{workspace}/lists/{list}/confirming", {
          params: { path: { workspace, list } },
        }),
      ),
  });

/** Who the emails of a list are from. */
export const listSenderQuery = (workspace: string, list: string) =>
  queryOptions({
    queryKey: ["list-sender", workspace, list],
    queryFn: () =>
      take(
        api.GET("/api/workspaces/{workspace}/lists/{list}/sender", {
          params: { path: { workspace, list } },
        }),
      ),
  });

/** The lists with their figures. */
export const listsQuery = (workspace: string) =>
  queryOptions({
    queryKey: ["catalogue", workspace, "lists"],
    queryFn: () =>
      take(api.GET("/api/workspaces/{workspace}/lists", { params: { path: { workspace } } })),
  });

/** The tags with their figures. */
export const tagsQuery = (workspace: string) =>
  queryOptions({
    queryKey: ["catalogue", workspace, "tags"],
    queryFn: () =>
      take(api.GET("/api/workspaces/{workspace}/tags", { params: { path: { workspace } } })),
  });

/** The fields. */
export const fieldsQuery = (workspace: string) =>
  queryOptions({
    queryKey: ["catalogue", workspace, "fields"],
    queryFn: () =>
      take(api.GET("/api/workspaces/{workspace}/fields", { params: { path: { workspace } } })),
  });

/** Why people have a tag. */
export const tagCausesQuery = (workspace: string, tag: string) =>
  queryOptions({
    queryKey: ["catalogue", workspace, "causes", tag],
    queryFn: () =>
      take(
        api.GET("/api/workspaces/{workspace}/tags/{tag}/causes", {
          params: { path: { workspace, tag } },
        }),
      ),
  });

/** Where each list, tag and field is used. */
export const usesQuery = (workspace: string) =>
  queryOptions({
    queryKey: ["catalogue", workspace, "uses"],
    queryFn: () =>
      take(api.GET("/api/workspaces/{workspace}/uses", { params: { path: { workspace } } })),
  });

/** Where each field is used. */
export const fieldUseQuery = (workspace: string) =>
  queryOptions({
    queryKey: ["catalogue", workspace, "field-use"],
    queryFn: () =>
      take(api.GET("/api/workspaces/{workspace}/fields/use", { params: { path: { workspace } } })),
  });
