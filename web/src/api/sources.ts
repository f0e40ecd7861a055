import { follows } from "./stream";
import { queryOptions } from "@tanstack/react-query";
import { api, take, type Schemas } from "./client";
import type { paths } from "./schema";

type RouteDocument = Schemas["RouteDocument"];
/** What a sample is decided of. */
export interface SampleAsked {
  document: RouteDocument;
  answers: paths["/api/workspaces/{workspace}/sources/{source}/sample"]["post"]["requestBody"]["content"]["application/json"]["answers"];
  context: Record<string, unknown>;
}

/** A source with its sheet. */
export const sourceQuery = (workspace: string, source: string) =>
  queryOptions({
    queryKey: ["source", workspace, source],
    queryFn: () =>
      take(
        api.GET("/api/workspaces/{workspace}/sources/{source}", {
          params: { path: { workspace, source } },
        }),
      ),
  });

/** The questions of a source as they came in lately, and lines proposed for them. */
export const seenQuery = (workspace: string, source: string) =>
  queryOptions({
    queryKey: ["seen", workspace, source],
    queryFn: () =>
      take(
        api.GET("/api/workspaces/{workspace}/sources/{source}/seen", {
          params: { path: { workspace, source } },
        }),
      ),
    // Who waits for the first call sees it come.
    ...follows(["submissions"], 3_000),
  });

/** The newest submissions of a source. */
export const latelyQuery = (workspace: string, source: string) =>
  queryOptions({
    queryKey: ["submissions", workspace, source],
    queryFn: () =>
      take(
        api.GET("/api/workspaces/{workspace}/submissions", {
          params: { path: { workspace }, query: { source, tests: "with" } },
        }),
      ),
  });

/** How a webhook is called. */
export const hookQuery = (workspace: string, source: string) =>
  queryOptions({
    queryKey: ["hook", workspace, source],
    queryFn: () =>
      take(
        api.GET("/api/workspaces/{workspace}/sources/{source}/hook", {
          params: { path: { workspace, source } },
        }),
      ),
  });

/** A sheet that is watched. */
export const watchQuery = (workspace: string, source: string) =>
  queryOptions({
    queryKey: ["watch", workspace, source],
    queryFn: () =>
      take(
        api.GET("/api/workspaces/{workspace}/sources/{source}/watch", {
          params: { path: { workspace, source } },
        }),
      ),
  });

/** The first rows of a file, and what the draft makes of them. */
export const fileRowsQuery = (
  workspace: string,
  file: Schemas["FileOut"],
  document: RouteDocument,
) =>
  queryOptions({
    queryKey: ["file-rows", workspace, file.id, file.shape, document],
    queryFn: () =>
      take(
        api.POST("/api/workspaces/{workspace}/files/{file}/rows", {
          params: { path: { workspace, file: file.id } },
          body: { document },
        }),
      ),
  });

/** A revision of a source. */
export const revisionQuery = (workspace: string, source: string, number: number) =>
  queryOptions({
    queryKey: ["revision", workspace, source, number],
    queryFn: () =>
      take(
        api.GET("/api/workspaces/{workspace}/sources/{source}/revisions/{number}", {
          params: { path: { workspace, source, number } },
        }),
      ),
  });

/** How many recent submissions a condition fits. */
export const fitsQuery = (
  workspace: string,
  source: string,
  settled: Schemas["FitsIn"]["condition"],
) =>
  queryOptions({
    queryKey: ["fits", workspace, source, settled],
    queryFn: () =>
      take(
        api.POST("/api/workspaces/{workspace}/sources/{source}/fits", {
          params: { path: { workspace, source } },
          body: { condition: settled },
        }),
      ),
  });

/** The sources. */
export const sourcesQuery = (workspace: string) =>
  queryOptions({
    queryKey: ["sources", workspace],
    queryFn: () =>
      take(api.GET("/api/workspaces/{workspace}/sources", { params: { path: { workspace } } })),
  });

/** The files of a source. */
export const filesQuery = (workspace: string, source: string) =>
  queryOptions({
    queryKey: ["files", workspace, source],
    queryFn: () =>
      take(
        api.GET("/api/workspaces/{workspace}/sources/{source}/files", {
          params: { path: { workspace, source } },
        }),
      ),
  });

/** What the rules make of a sample. */
export const sampleQuery = (workspace: string, source: string, settled: SampleAsked) =>
  queryOptions({
    queryKey: ["sample", workspace, source, settled],
    queryFn: () =>
      take(
        api.POST("/api/workspaces/{workspace}/sources/{source}/sample", {
          params: { path: { workspace, source } },
          body: {
            document: settled.document,
            answers: settled.answers,
            context: settled.context,
          },
        }),
      ),
    gcTime: 10_000,
  });
