import { useQuery, useQueryClient } from "@tanstack/react-query";
import { api, take, type Schemas } from "../../api/client";
import { mailSettingsQuery } from "../../api/messages";
import { useSlug } from "../../api/workspace";
import { useForm } from "../../drafts/useForm";

export type MailSettings = Omit<Schemas["MailSettingsIn"], "based_on">;

/** How letters look and go out. */
export function useMailSettings() {
  const workspace = useSlug();
  return useQuery(mailSettingsQuery(workspace));
}

/** The settings as a form; `name` of the form, since two show parts of them. */
export function useMailForm(name: string, stored: Schemas["MailSettingsOut"]) {
  const workspace = useSlug();
  const client = useQueryClient();
  const query = mailSettingsQuery(workspace);
  const params = { path: { workspace } };
  const kept = (answer: Schemas["MailSettingsOut"]) => {
    client.setQueryData(query.queryKey, answer);
    return { document: asForm(answer), edits: answer.version };
  };
  return useForm<MailSettings>(
    `${name}/${workspace}`,
    { document: asForm(stored), edits: stored.version },
    async (document, based_on) =>
      kept(
        await take(
          api.PUT("/api/workspaces/{workspace}/mail/settings", {
            params,
            body: { ...document, based_on },
          }),
        ),
      ),
    async () => kept(await take(api.GET("/api/workspaces/{workspace}/mail/settings", { params }))),
  );
}

/** The settings without what the server finds out about them. */
function asForm(settings: Schemas["MailSettingsOut"]): MailSettings {
  const form: Partial<Schemas["MailSettingsOut"]> = { ...settings };
  delete form.findings;
  delete form.version;
  return form as MailSettings;
}
