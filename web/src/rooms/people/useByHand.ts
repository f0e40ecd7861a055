import { useAttempt } from "../../api/useAttempt";
import { api, take, type Schemas } from "../../api/client";
import { useReload, useSlug } from "../../api/workspace";

/** Changes a person by hand: all of what is said, or nothing and what is wrong with it. */
export function useByHand(person: string) {
  const workspace = useSlug();
  const reload = useReload();
  const { attempt, failed } = useAttempt();
  /** Whether it was done. */
  const change = (body: Partial<Schemas["ByHand"]>) =>
    attempt(async () => {
      await take(
        api.POST("/api/workspaces/{workspace}/people/{person}/by-hand", {
          params: { path: { workspace, person } },
          body: { fields: {}, add_tags: [], remove_tags: [], leave: [], complained: [], ...body },
        }),
      );
      await reload("person", "trail", "people");
    });
  return { change, failed };
}
