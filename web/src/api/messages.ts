import { queryOptions } from "@tanstack/react-query";
import { api, take } from "./client";
import type { paths } from "./schema";

type PreviewAsked = NonNullable<
  paths["/api/workspaces/{workspace}/messages/{message}/preview"]["get"]["parameters"]["query"]
>;

/** How sending went, day by day. */
export const deliveryQuery = (workspace: string, days: number) =>
  queryOptions({
    queryKey: ["delivery", workspace, days],
    queryFn: () =>
      take(
        api.GET("/api/workspaces/{workspace}/mail/delivery", {
          params: { path: { workspace }, query: { days } },
        }),
      ),
  });

/** What became of the emails of a message. */
export const messageFiguresQuery = (workspace: string, message: string) =>
  queryOptions({
    queryKey: ["message-figures", workspace, message],
    queryFn: () =>
      take(
        api.GET("/api/workspaces/{workspace}/messages/{message}/figures", {
          params: { path: { workspace, message } },
        }),
      ),
  });

/** A message with its text. */
export const messageQuery = (workspace: string, message: string) =>
  queryOptions({
    queryKey: ["message", workspace, message],
    queryFn: () =>
      take(
        api.GET("/api/workspaces/{workspace}/messages/{message}", {
          params: { path: { workspace, message } },
        }),
      ),
  });

/** A revision of a message. */
export const messageRevisionQuery = (workspace: string, message: string, number: number) =>
  queryOptions({
    queryKey: ["message-revision", workspace, message, number],
    queryFn: () =>
      take(
        api.GET("/api/workspaces/{workspace}/messages/{message}/revisions/{number}", {
          params: { path: { workspace, message, number } },
        }),
      ),
  });

/** The messages. */
export const messagesQuery = (workspace: string) =>
  queryOptions({
    queryKey: ["messages", workspace],
    queryFn: () =>
      take(api.GET("/api/workspaces/{workspace}/messages", { params: { path: { workspace } } })),
  });

/** A message as somebody would get it. */
export const previewQuery = (
  workspace: string,
  message: string,
  edits: number | "live",
  asked: PreviewAsked,
) =>
  queryOptions({
    queryKey: ["preview", workspace, message, edits, asked],
    queryFn: () =>
      take(
        api.GET("/api/workspaces/{workspace}/messages/{message}/preview", {
          params: { path: { workspace, message }, query: asked },
        }),
      ),
  });

/** The mailbox that answers are read from; null where there is none. */
export const mailboxQuery = (workspace: string) =>
  queryOptions({
    queryKey: ["reply-mailbox", workspace],
    queryFn: async () =>
      (await take(
        api.GET("/api/workspaces/{workspace}/mail/mailbox", { params: { path: { workspace } } }),
      )) ?? null,
  });

/** The domains that emails are signed for. */
export const domainsQuery = (workspace: string) =>
  queryOptions({
    queryKey: ["sending-domains", workspace],
    queryFn: () =>
      take(
        api.GET("/api/workspaces/{workspace}/mail/domains", { params: { path: { workspace } } }),
      ),
  });

/** The house style and who emails are from. */
export const mailSettingsQuery = (workspace: string) =>
  queryOptions({
    queryKey: ["mail-settings", workspace],
    queryFn: () =>
      take(
        api.GET("/api/workspaces/{workspace}/mail/settings", { params: { path: { workspace } } }),
      ),
  });

/** The pictures of the workspace. */
export const picturesQuery = (workspace: string) =>
  queryOptions({
    queryKey: ["pictures", workspace],
    queryFn: () =>
      take(
        api.GET("/api/workspaces/{workspace}/mail/pictures", { params: { path: { workspace } } }),
      ),
  });
