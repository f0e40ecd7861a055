import { queryOptions } from "@tanstack/react-query";
import { api, take, type Schemas } from "./client";
import { follows } from "./stream";

type Document = Schemas["BroadcastDocument"];
const ONE = "/api/workspaces/{workspace}/broadcasts/{broadcast}";

/** All broadcasts, what is under way first. */
export const broadcastsQuery = (workspace: string) =>
  queryOptions({
    queryKey: ["broadcasts", workspace],
    queryFn: () =>
      take(api.GET("/api/workspaces/{workspace}/broadcasts", { params: { path: { workspace } } })),
    ...follows(["broadcasts", "mail"], 5_000),
  });

/** A broadcast with its document. */
export const broadcastQuery = (workspace: string, broadcast: string) =>
  queryOptions({
    queryKey: ["broadcast", workspace, broadcast],
    queryFn: () => take(api.GET(ONE, { params: { path: { workspace, broadcast } } })),
    ...follows(["broadcasts"], 1_000),
  });

/** A revision of a broadcast. */
export const broadcastRevisionQuery = (workspace: string, broadcast: string, number: number) =>
  queryOptions({
    queryKey: ["broadcast-revision", workspace, broadcast, number],
    queryFn: () =>
      take(
        api.GET(`${ONE}/revisions/{number}`, {
          params: { path: { workspace, broadcast, number } },
        }),
      ),
  });

/** What it would come to if it were set off now. */
export const planQuery = (workspace: string, broadcast: string, document: Document) =>
  queryOptions({
    queryKey: ["broadcast-plan", workspace, broadcast, document],
    queryFn: () =>
      take(
        api.POST(`${ONE}/plan`, { params: { path: { workspace, broadcast } }, body: { document } }),
      ),
    ...follows(["people", "mail"], 10_000),
  });

/** What it would come to for one person; for somebody who gets it, where none is named. */
export const personPlanQuery = (
  workspace: string,
  broadcast: string,
  body: { document: Document; person: string | null; after: string | null },
) =>
  queryOptions({
    queryKey: ["broadcast-person", workspace, broadcast, body],
    queryFn: () =>
      take(api.POST(`${ONE}/person`, { params: { path: { workspace, broadcast } }, body })),
  });

/** Those who are left out for one reason. */
export const leftOutQuery = (
  workspace: string,
  broadcast: string,
  body: { document: Document; why: Schemas["GroupOut"]["why"]; about: string },
) =>
  queryOptions({
    queryKey: ["broadcast-left-out", workspace, broadcast, body],
    queryFn: () =>
      take(
        api.POST(`${ONE}/left-out`, {
          params: { path: { workspace, broadcast } },
          body: { ...body, after: null },
        }),
      ),
  });

/** How it goes. */
export const progressQuery = (workspace: string, broadcast: string) =>
  queryOptions({
    queryKey: ["broadcast-progress", workspace, broadcast],
    queryFn: () => take(api.GET(`${ONE}/progress`, { params: { path: { workspace, broadcast } } })),
    ...follows(["broadcasts", "mail"], 1_000),
  });
