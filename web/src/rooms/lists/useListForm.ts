import { useQueryClient } from "@tanstack/react-query";
import { api, take, type Schemas } from "../../api/client";
import { listsQuery } from "../../api/lists";
import { useReloadAll, useSlug } from "../../api/workspace";
import { useForm } from "../../drafts/useForm";

type ListWords = Omit<Required<Schemas["ListChangeIn"]>, "based_on">;

/** A list's name here, what the public reads of it, and its pages, as a form. */
export function useListForm(list: Schemas["ListOut"]) {
  const workspace = useSlug();
  const client = useQueryClient();
  const reloadAll = useReloadAll();
  return useForm<ListWords>(
    `list/${list.id}`,
    asForm(list),
    async (document, based_on) => {
      const kept = await take(
        api.PUT("/api/workspaces/{workspace}/lists/{list}", {
          params: { path: { workspace, list: list.id } },
          body: { ...document, based_on },
        }),
      );
      await reloadAll();
      return asForm(kept);
    },
    async () => {
      const all = await client.query({ ...listsQuery(workspace), staleTime: 0 });
      return asForm(all.find((one) => one.id === list.id) ?? list);
    },
  );
}

function asForm(list: Schemas["ListOut"]) {
  const { name, public_name, description, language, pages, words } = list;
  return {
    document: { name, public_name, description, language, pages, words },
    edits: list.version,
  };
}
