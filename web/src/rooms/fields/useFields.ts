import { useQuery } from "@tanstack/react-query";
import { fieldUseQuery, fieldsQuery } from "../../api/lists";
import { api, take, type Schemas } from "../../api/client";
import { useReloadAll, useSlug } from "../../api/workspace";

export type Field = Schemas["FieldOut"];
export type Use = Schemas["FieldUse"];
type Retype = Schemas["RetypeIn"];

/** The fields, how many people have each, which routes fill it, and what can change them. */
export function useFields() {
  const workspace = useSlug();
  const reloadAll = useReloadAll();
  const fields = useQuery(fieldsQuery(workspace));
  const use = useQuery(fieldUseQuery(workspace));
  const changed = async <Answer>(asked: Promise<Answer>): Promise<Answer> => {
    const answer = await asked;
    await reloadAll();
    return answer;
  };
  const at = (field: string) => ({ path: { workspace, field } });
  return {
    fields: fields.data,
    use: use.data,
    error: fields.error ?? use.error,
    save: (field: string, body: Schemas["FieldChangeIn"]) =>
      changed(
        take(api.PUT("/api/workspaces/{workspace}/fields/{field}", { params: at(field), body })),
      ),
    preview: (field: string, body: Retype) =>
      take(
        api.POST("/api/workspaces/{workspace}/fields/{field}/retype/preview", {
          params: at(field),
          body,
        }),
      ),
    retype: (field: string, body: Retype) =>
      changed(
        take(
          api.POST("/api/workspaces/{workspace}/fields/{field}/retype", {
            params: at(field),
            body,
          }),
        ),
      ),
    merge: (field: string, into: string) =>
      changed(
        take(
          api.POST("/api/workspaces/{workspace}/fields/{field}/merge", {
            params: at(field),
            body: { into },
          }),
        ),
      ),
    remove: (field: string) =>
      changed(
        take(api.DELETE("/api/workspaces/{workspace}/fields/{field}", { params: at(field) })),
      ),
  };
}
