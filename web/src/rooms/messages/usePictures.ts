import { useQuery, useQueryClient } from "@tanstack/react-query";
import { picturesQuery } from "../../api/messages";
import { api, asIs, take, type Schemas } from "../../api/client";
import { useSlug } from "../../api/workspace";

/** The picture library of the workspace, and adding to it. */
export function usePictures() {
  const workspace = useSlug();
  const client = useQueryClient();
  const { data, error } = useQuery(picturesQuery(workspace));
  const add = async (file: File): Promise<Schemas["PictureOut"]> => {
    const made = await take(
      api.POST("/api/workspaces/{workspace}/mail/pictures", {
        params: { path: { workspace }, query: { name: file.name } },
        ...asIs(file, file.type || "application/octet-stream"),
      }),
    );
    await client.invalidateQueries({ queryKey: picturesQuery(workspace).queryKey });
    return made;
  };
  return { pictures: data ?? [], loaded: data !== undefined, error, add };
}
