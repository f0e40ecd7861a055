import { queryOptions } from "@tanstack/react-query";
import type { Kind } from "../parts/thing/kinds";
import { api, take, type Schemas } from "./client";

type Touches = Schemas["TouchesOut"];

/** What can be done alike with things of every kind. */
export interface ThingCalls {
  /** What archiving or deleting it would touch. */
  touches: () => Promise<Touches>;
  rename: (name: string) => Promise<unknown>;
  copy: (name: string) => Promise<{ id: string }>;
  remove: () => Promise<unknown>;
  /** Where it can be put away. */
  archive?: () => Promise<unknown>;
  restore?: () => Promise<unknown>;
}

type Call = (workspace: string, id: string) => ThingCalls;

const THING = "/api/workspaces/{workspace}/things/{kind}/{thing}";

const listed =
  (kind: Exclude<Kind, "audience" | "broadcast">): Call =>
  (workspace, thing) => {
    const params = { path: { workspace, kind, thing } };
    return {
      touches: () => take(api.GET(THING, { params })),
      rename: (name) => take(api.POST(`${THING}/rename`, { params, body: { name } })),
      copy: (name) => take(api.POST(`${THING}/copy`, { params, body: { name } })),
      remove: () => take(api.DELETE(THING, { params })),
      archive: () => take(api.POST(`${THING}/archive`, { params })),
      restore: () => take(api.POST(`${THING}/restore`, { params })),
    };
  };

const AUDIENCE = "/api/workspaces/{workspace}/audiences/{audience}";

/** An audience does nothing by itself, so that there is nothing to put away. */
const audience: Call = (workspace, id) => {
  const params = { path: { workspace, audience: id } };
  return {
    touches: () =>
      Promise.resolve({
        sentences: ["Its condition and its revisions go. The people stay as they are."],
        deletable: true,
        archived: false,
      }),
    rename: (name) => take(api.PUT(`${AUDIENCE}/name`, { params, body: { name } })),
    copy: (name) => take(api.POST(`${AUDIENCE}/copy`, { params, body: { name } })),
    remove: () => take(api.DELETE(AUDIENCE, { params })),
  };
};

const BROADCAST = "/api/workspaces/{workspace}/broadcasts/{broadcast}";

/** What went out stays: then it can be put away. */
const broadcast: Call = (workspace, id) => {
  const params = { path: { workspace, broadcast: id } };
  return {
    touches: async () => {
      const row = await take(api.GET(BROADCAST, { params }));
      const nothingYet = row.state === "draft" && row.revisions.length === 0;
      return {
        sentences: [
          nothingYet
            ? "Nothing of it has gone out. Its message stays."
            : "Emails of it exist. They stay with the people who got them.",
        ],
        deletable: nothingYet,
        archived: row.archived,
      };
    },
    rename: (name) => take(api.PUT(`${BROADCAST}/name`, { params, body: { name } })),
    copy: (name) => take(api.POST(`${BROADCAST}/copy`, { params, body: { name } })),
    remove: () => take(api.DELETE(BROADCAST, { params })),
    archive: () => take(api.POST(`${BROADCAST}/archive`, { params })),
    restore: () => take(api.POST(`${BROADCAST}/restore`, { params })),
  };
};

/** By kind: one more kind is one more entry. */
export const THINGS: Record<Kind, Call> = {
  source: listed("source"),
  sequence: listed("sequence"),
  message: listed("message"),
  audience,
  broadcast,
};

/** What archiving or deleting a thing would touch. */
export const touchesQuery = (workspace: string, kind: Kind, thing: string) =>
  queryOptions({
    queryKey: ["touches", workspace, kind, thing],
    queryFn: () => THINGS[kind](workspace, thing).touches(),
    staleTime: 0,
  });
