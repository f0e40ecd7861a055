import { useQuery } from "@tanstack/react-query";
import { mailSettingsQuery } from "../../api/messages";
import { type Schemas } from "../../api/client";
import { useSlug } from "../../api/workspace";

/** How letters look and go out. */
export function useMailSettings() {
  const workspace = useSlug();
  return useQuery(mailSettingsQuery(workspace));
}

/** The settings without what the server finds out about them. */
export function asSent(settings: Schemas["MailSettingsOut"]): Schemas["MailSettings"] {
  const body: Partial<Schemas["MailSettingsOut"]> = { ...settings };
  delete body.findings;
  return body as Schemas["MailSettings"];
}
