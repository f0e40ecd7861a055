import { useNavigate } from "react-router";
import { api, take } from "../../api/client";
import { useReload, useSlug } from "../../api/workspace";
import type { Group } from "../conditions/condition";

/** Makes an audience of a condition, and opens its sheet. */
export function useMakeAudience() {
  const workspace = useSlug();
  const reload = useReload();
  const go = useNavigate();
  return async (name: string, who: Group) => {
    const made = await take(
      api.POST("/api/workspaces/{workspace}/audiences", {
        params: { path: { workspace } },
        body: { name, who },
      }),
    );
    await reload("audiences");
    await go(`/w/${workspace}/audiences/${made.id}`);
  };
}
