import { useQueryClient } from "@tanstack/react-query";
import { api, take, type Schemas } from "../../api/client";
import { useForm } from "../../drafts/useForm";

export type WorkspaceSettings = Omit<Schemas["SettingsSave"], "based_on">;

/** What this form sets. */
const SET = [
  "name",
  "time_zone",
  "sender_name",
  "sender_address",
  "postal_address",
  "keeps_ip",
  "asks_zone",
  "country",
  "retention_days",
  "email_gap_days",
  "attention_after",
  "many_in_a_day",
  "approves_broadcasts",
  "sending_times",
] as const satisfies (keyof WorkspaceSettings)[];

/** The settings of the workspace as a form. */
export function useSettingsForm(stored: Schemas["SettingsOut"]) {
  const client = useQueryClient();
  const params = { path: { workspace: stored.slug } };
  return useForm<WorkspaceSettings>(
    `settings/${stored.slug}`,
    asForm(stored),
    async (document, based_on) => {
      const kept = await take(
        api.PUT("/api/workspaces/{workspace}", { params, body: { ...document, based_on } }),
      );
      await client.invalidateQueries({ queryKey: ["workspace"] });
      await client.invalidateQueries({ queryKey: ["session"] });
      return asForm(kept);
    },
    async () => asForm(await take(api.GET("/api/workspaces/{workspace}", { params }))),
  );
}

/** The settings that can be set, and their version. */
function asForm(stored: Schemas["SettingsOut"]) {
  const document = Object.fromEntries(SET.map((key) => [key, stored[key]]));
  return { document: document as WorkspaceSettings, edits: stored.version };
}
