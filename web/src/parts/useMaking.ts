import { api, take, type Schemas } from "../api/client";
import { useReload, useSlug } from "../api/workspace";

/** Makes what a line needs and does not exist yet, in place; each gives the id of what it made. */
export function useMaking() {
  const workspace = useSlug();
  const reload = useReload();
  const params = { path: { workspace } };
  const made = async (row: { id: string }) => {
    await reload("catalogue");
    return row.id;
  };
  return {
    tag: async (name: string) =>
      made(await take(api.POST("/api/workspaces/{workspace}/tags", { params, body: { name } }))),
    list: async (name: string) =>
      made(
        await take(
          api.POST("/api/workspaces/{workspace}/lists", {
            params,
            body: { name, description: "" },
          }),
        ),
      ),
    field: async (label: string, type: Schemas["FieldIn"]["type"], choices: Schemas["Choice"][]) =>
      made(
        await take(
          api.POST("/api/workspaces/{workspace}/fields", {
            params,
            body: { label, type, choices },
          }),
        ),
      ),
    sequence: async (name: string) =>
      made(
        await take(
          api.POST("/api/workspaces/{workspace}/sequences", { params, body: { name, start: "" } }),
        ),
      ),
    message: async (name: string) =>
      made(
        await take(api.POST("/api/workspaces/{workspace}/messages", { params, body: { name } })),
      ),
  };
}
