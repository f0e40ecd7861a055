import type { Saved } from "../drafts/DraftSession";
import { api, asIs, take, type Schemas } from "./client";
import { audienceQuery } from "./audiences";
import { broadcastQuery } from "./broadcasts";
import { messageQuery } from "./messages";
import { sequenceQuery } from "./sequences";
import { sourceQuery } from "./sources";

/** What each kind of document is stored as. */
export interface Stored {
  source: Schemas["SourceOut"];
  sequence: Schemas["SequenceOut"];
  message: Schemas["MessageOut"];
  audience: Schemas["AudienceOut"];
  broadcast: Schemas["BroadcastOut"];
}

export type DocumentKind = keyof Stored;
export type DocumentOf<Kind extends DocumentKind> = Stored[Kind]["document"];

/** What can be done with the document of one thing. `based_on`: the edits that were seen. */
export interface DocumentCalls<Answer extends Saved<unknown>> {
  queryKey: readonly unknown[];
  load: () => Promise<Answer>;
  save: (document: Answer["document"], based_on: number) => Promise<Answer>;
  discard: (based_on: number) => Promise<unknown>;
  /** What a document has different from what is stored, in sentences. */
  differences: (document: Answer["document"]) => Promise<string[]>;
  /** Puts in a document from a file; what it refers to and is not here. Where files are taken. */
  putIn?: (content: string, based_on: number) => Promise<{ missing: Schemas["Reference"][] }>;
}

type Registry = {
  [Kind in DocumentKind]: (workspace: string, id: string) => DocumentCalls<Stored[Kind]>;
};

const JSON_FILE = "application/json";

/** The calls of each kind: one more kind is one more entry. */
export const DOCUMENTS: Registry = {
  source: (workspace, source) => {
    const path = { workspace, source };
    return {
      queryKey: sourceQuery(workspace, source).queryKey,
      load: () =>
        take(api.GET("/api/workspaces/{workspace}/sources/{source}", { params: { path } })),
      save: (document, based_on) =>
        take(
          api.PUT("/api/workspaces/{workspace}/sources/{source}/draft", {
            params: { path },
            body: { document, based_on },
          }),
        ),
      discard: (based_on) =>
        take(
          api.POST("/api/workspaces/{workspace}/sources/{source}/discard", {
            params: { path },
            body: { based_on },
          }),
        ),
      differences: (document) =>
        take(
          api.POST("/api/workspaces/{workspace}/sources/{source}/differences", {
            params: { path },
            body: document,
          }),
        ),
      putIn: (content, based_on) =>
        take(
          api.PUT("/api/workspaces/{workspace}/sources/{source}/document.json", {
            params: { path, query: { based_on } },
            ...asIs(content, JSON_FILE),
          }),
        ),
    };
  },
  sequence: (workspace, sequence) => {
    const path = { workspace, sequence };
    return {
      queryKey: sequenceQuery(workspace, sequence).queryKey,
      load: () =>
        take(api.GET("/api/workspaces/{workspace}/sequences/{sequence}", { params: { path } })),
      save: (document, based_on) =>
        take(
          api.PUT("/api/workspaces/{workspace}/sequences/{sequence}/draft", {
            params: { path },
            body: { document, based_on },
          }),
        ),
      discard: (based_on) =>
        take(
          api.POST("/api/workspaces/{workspace}/sequences/{sequence}/discard", {
            params: { path },
            body: { based_on },
          }),
        ),
      differences: (document) =>
        take(
          api.POST("/api/workspaces/{workspace}/sequences/{sequence}/differences", {
            params: { path },
            body: document,
          }),
        ),
      putIn: (content, based_on) =>
        take(
          api.PUT("/api/workspaces/{workspace}/sequences/{sequence}/document.json", {
            params: { path, query: { based_on } },
            ...asIs(content, JSON_FILE),
          }),
        ),
    };
  },
  message: (workspace, message) => {
    const path = { workspace, message };
    return {
      queryKey: messageQuery(workspace, message).queryKey,
      load: () =>
        take(api.GET("/api/workspaces/{workspace}/messages/{message}", { params: { path } })),
      save: (document, based_on) =>
        take(
          api.PUT("/api/workspaces/{workspace}/messages/{message}/draft", {
            params: { path },
            body: { document, based_on },
          }),
        ),
      discard: (based_on) =>
        take(
          api.POST("/api/workspaces/{workspace}/messages/{message}/discard", {
            params: { path },
            body: { based_on },
          }),
        ),
      differences: (document) =>
        take(
          api.POST("/api/workspaces/{workspace}/messages/{message}/differences", {
            params: { path },
            body: document,
          }),
        ),
      putIn: (content) =>
        take(
          api.PUT("/api/workspaces/{workspace}/messages/{message}/document.json", {
            params: { path },
            ...asIs(content, JSON_FILE),
          }),
        ),
    };
  },
  audience: (workspace, audience) => {
    const path = { workspace, audience };
    return {
      queryKey: audienceQuery(workspace, audience).queryKey,
      load: () =>
        take(api.GET("/api/workspaces/{workspace}/audiences/{audience}", { params: { path } })),
      save: (document, based_on) =>
        take(
          api.PUT("/api/workspaces/{workspace}/audiences/{audience}/draft", {
            params: { path },
            body: { document, based_on },
          }),
        ),
      discard: (based_on) =>
        take(
          api.POST("/api/workspaces/{workspace}/audiences/{audience}/discard", {
            params: { path },
            body: { based_on },
          }),
        ),
      differences: (document) =>
        take(
          api.POST("/api/workspaces/{workspace}/audiences/{audience}/differences", {
            params: { path },
            body: document,
          }),
        ),
    };
  },
  broadcast: (workspace, broadcast) => {
    const path = { workspace, broadcast };
    return {
      queryKey: broadcastQuery(workspace, broadcast).queryKey,
      load: () =>
        take(api.GET("/api/workspaces/{workspace}/broadcasts/{broadcast}", { params: { path } })),
      save: (document, based_on) =>
        take(
          api.PUT("/api/workspaces/{workspace}/broadcasts/{broadcast}/draft", {
            params: { path },
            body: { document, based_on },
          }),
        ),
      discard: (based_on) =>
        take(
          api.POST("/api/workspaces/{workspace}/broadcasts/{broadcast}/discard", {
            params: { path },
            body: { based_on },
          }),
        ),
      differences: (document) =>
        take(
          api.POST("/api/workspaces/{workspace}/broadcasts/{broadcast}/differences", {
            params: { path },
            body: document,
          }),
        ),
      putIn: (content, based_on) =>
        take(
          api.PUT("/api/workspaces/{workspace}/broadcasts/{broadcast}/document.json", {
            params: { path, query: { based_on } },
            ...asIs(content, JSON_FILE),
          }),
        ),
    };
  },
};
