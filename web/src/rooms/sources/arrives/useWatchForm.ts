import { api, take, type Schemas } from "../../../api/client";
import { useReload, useSlug } from "../../../api/workspace";
import { useForm } from "../../../drafts/useForm";

type Watch = Omit<Required<Schemas["WatchSave"]>, "based_on">;

/** Which sheet is watched, as a form. */
export function useWatchForm(source: string, watch: Schemas["WatchOut"]) {
  const workspace = useSlug();
  const reload = useReload();
  const params = { path: { workspace, source } };
  return useForm<Watch>(
    `watch/${source}`,
    asForm(watch),
    async (document, based_on) => {
      const kept = await take(
        api.PUT("/api/workspaces/{workspace}/sources/{source}/watch", {
          params,
          body: { ...document, based_on },
        }),
      );
      await reload("watch");
      return asForm(kept);
    },
    async () =>
      asForm(await take(api.GET("/api/workspaces/{workspace}/sources/{source}/watch", { params }))),
  );
}

function asForm({ address, minutes, key_heading, version }: Schemas["WatchOut"]) {
  return { document: { address, minutes, key_heading }, edits: version };
}
