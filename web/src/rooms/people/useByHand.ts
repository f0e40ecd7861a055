import { useState } from "react";
import { api, take, type Schemas } from "../../api/client";
import { useReload, useSlug } from "../../api/workspace";

/** Changes a person by hand: all of what is said, or nothing and what is wrong with it. */
export function useByHand(person: string) {
  const workspace = useSlug();
  const reload = useReload();
  const [failed, setFailed] = useState<unknown>();
  /** Whether it was done. */
  const change = async (body: Partial<Schemas["ByHand"]>) => {
    try {
      setFailed(undefined);
      await take(
        api.POST("/api/workspaces/{workspace}/people/{person}/by-hand", {
          params: { path: { workspace, person } },
          body: { fields: {}, add_tags: [], remove_tags: [], leave: [], complained: [], ...body },
        }),
      );
      await reload("person", "trail", "people");
      return true;
    } catch (caught) {
      setFailed(caught);
      return false;
    }
  };
  return { change, failed };
}
