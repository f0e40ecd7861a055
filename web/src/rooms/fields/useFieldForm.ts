import { useQueryClient } from "@tanstack/react-query";
import type { Schemas } from "../../api/client";
import { fieldsQuery } from "../../api/lists";
import { useSlug } from "../../api/workspace";
import { useForm } from "../../drafts/useForm";
import { useFields, type Field } from "./useFields";

type FieldForm = Omit<Schemas["FieldChangeIn"], "based_on">;

/** A field's name and choices, as a form. */
export function useFieldForm(field: Field) {
  const workspace = useSlug();
  const client = useQueryClient();
  const { save } = useFields();
  return useForm<FieldForm>(
    `field/${field.id}`,
    asForm(field),
    async (document, based_on) => asForm(await save(field.id, { ...document, based_on })),
    async () => {
      const all = await client.query({ ...fieldsQuery(workspace), staleTime: 0 });
      return asForm(all.find((one) => one.id === field.id) ?? field);
    },
  );
}

function asForm({ label, choices, version }: Field) {
  return { document: { label, choices }, edits: version };
}
