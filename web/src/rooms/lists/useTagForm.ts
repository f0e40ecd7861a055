import { useQueryClient } from "@tanstack/react-query";
import { api, take, type Schemas } from "../../api/client";
import { tagsQuery } from "../../api/lists";
import { useReloadAll, useSlug } from "../../api/workspace";
import { useForm } from "../../drafts/useForm";

/** The name of a tag, as a form: it is its own version. */
export function useTagForm(tag: Pick<Schemas["TagOut"], "id" | "name">) {
  const workspace = useSlug();
  const client = useQueryClient();
  const reloadAll = useReloadAll();
  const asForm = ({ name }: { name: string }) => ({ document: { name }, edits: name });
  return useForm<{ name: string }>(
    `tag/${tag.id}`,
    asForm(tag),
    async (body) => {
      const kept = await take(
        api.PUT("/api/workspaces/{workspace}/tags/{tag}/name", {
          params: { path: { workspace, tag: tag.id } },
          body,
        }),
      );
      await reloadAll();
      return asForm(kept);
    },
    async () => {
      const all = await client.query({ ...tagsQuery(workspace), staleTime: 0 });
      return asForm(all.find((one) => one.id === tag.id) ?? tag);
    },
  );
}
