import { api, take, type Schemas } from "../../api/client";
import { useReload, useSlug } from "../../api/workspace";
import { useForm } from "../../drafts/useForm";

type Change = Partial<Schemas["ByHand"]>;

/** Changes a person by hand: all of what is asked for, or nothing and what is wrong with it. */
export function useByHand(person: string) {
  const workspace = useSlug();
  const reload = useReload();
  return async (body: Change) => {
    await take(
      api.POST("/api/workspaces/{workspace}/people/{person}/by-hand", {
        params: { path: { workspace, person } },
        body: { fields: {}, add_tags: [], remove_tags: [], leave: [], complained: [], ...body },
      }),
    );
    await reload("person", "trail", "people");
  };
}

/**
 * A part of a person as a form. Only what was changed is sent, so that what came in meanwhile stays.
 * `of`: the part of a person; `changed`: what to ask for, from what there was to what is written.
 */
export function usePersonForm<Form>(
  person: Schemas["PersonOut"],
  part: string,
  of: (person: Schemas["PersonOut"]) => Form,
  changed: (before: Form, after: Form) => Change,
) {
  const workspace = useSlug();
  const change = useByHand(person.id);
  const asForm = (one: Schemas["PersonOut"]) => ({
    document: of(one),
    edits: JSON.stringify(of(one)),
  });
  return useForm<Form>(
    `${part}/${person.id}`,
    asForm(person),
    async (document, based_on) => {
      await change(changed(JSON.parse(based_on) as Form, document));
      return { edits: JSON.stringify(document) };
    },
    async () =>
      asForm(
        await take(
          api.GET("/api/workspaces/{workspace}/people/{person}", {
            params: { path: { workspace, person: person.id } },
          }),
        ),
      ),
  );
}
