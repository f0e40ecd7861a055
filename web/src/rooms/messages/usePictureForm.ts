import { api, take, type Schemas } from "../../api/client";
import { picturesQuery } from "../../api/messages";
import { useReload, useSlug } from "../../api/workspace";
import { useForm } from "../../drafts/useForm";
import { useQueryClient } from "@tanstack/react-query";

interface PictureWords {
  name: string;
  alt: string;
}

/** A picture's name, and what it shows, as a form. */
export function usePictureForm(picture: Schemas["PictureOut"]) {
  const workspace = useSlug();
  const client = useQueryClient();
  const reload = useReload();
  const of = (one: Schemas["PictureOut"]) => ({
    document: { name: one.name, alt: one.alt },
    edits: one.version,
  });
  return useForm<PictureWords>(
    `picture/${picture.id}`,
    of(picture),
    async (document, based_on) => {
      const answer = await take(
        api.PUT("/api/workspaces/{workspace}/mail/pictures/{picture}", {
          params: { path: { workspace, picture: picture.id } },
          body: { ...document, based_on },
        }),
      );
      await reload("pictures");
      return of(answer);
    },
    async () => {
      const all = await client.query({ ...picturesQuery(workspace), staleTime: 0 });
      return of(all.find((one) => one.id === picture.id) ?? picture);
    },
  );
}
