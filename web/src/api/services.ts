import { follows } from "./stream";
import { infiniteQueryOptions, queryOptions } from "@tanstack/react-query";
import { api, take, type Schemas } from "./client";

/** A handoff with its attempts; another one once it has moved. */
export const handoffQuery = (
  workspace: string,
  handoff: Pick<Schemas["HandoffOut"], "id" | "state" | "tries">,
) =>
  queryOptions({
    queryKey: ["handoff", workspace, handoff.id, handoff.state, handoff.tries],
    queryFn: () =>
      take(
        api.GET("/api/workspaces/{workspace}/handoffs/{handoff}", {
          params: { path: { workspace, handoff: handoff.id } },
        }),
      ),
  });

/** The handoffs of a service, by state and fault, page by page. */
export const handoffsQuery = (workspace: string, service: string, state: string, fault: string) =>
  infiniteQueryOptions({
    queryKey: ["handoffs", workspace, service, state, fault],
    queryFn: ({ pageParam }) =>
      take(
        api.GET("/api/workspaces/{workspace}/services/{service}/handoffs", {
          params: {
            path: { workspace, service },
            query: { state, fault, ...(pageParam && { after: pageParam }) },
          },
        }),
      ),
    initialPageParam: "",
    getNextPageParam: (last) => last.next,
  });

/** The handoffs of a person, or of a submission. */
export const handoffsOfQuery = (
  workspace: string,
  person: string | undefined,
  submission: string | undefined,
) =>
  queryOptions({
    queryKey: ["handoffs", workspace, person ?? "", submission ?? ""],
    queryFn: () =>
      person
        ? take(
            api.GET("/api/workspaces/{workspace}/people/{person}/handoffs", {
              params: { path: { workspace, person } },
            }),
          )
        : take(
            api.GET("/api/workspaces/{workspace}/submissions/{submission}/handoffs", {
              params: { path: { workspace, submission: submission ?? "" } },
            }),
          ),
  });

/** What a service said lately: of a type of event, or what was refused. */
export const heardQuery = (workspace: string, service: string, shown: string, refused: boolean) =>
  queryOptions({
    queryKey: ["heard", workspace, service, shown, refused],
    queryFn: () =>
      take(
        api.GET("/api/workspaces/{workspace}/services/{service}/heard", {
          params: {
            path: { workspace, service },
            query: refused ? { state: "refused" } : { type: shown },
          },
        }),
      ),
  });

/** The services that are connected. */
export const servicesQuery = (workspace: string) =>
  queryOptions({
    queryKey: ["services", workspace],
    queryFn: () =>
      take(api.GET("/api/workspaces/{workspace}/services", { params: { path: { workspace } } })),
  });

/** The kinds of service that can be connected. */
export const serviceKindsQuery = (workspace: string) =>
  queryOptions({
    queryKey: ["service-kinds", workspace],
    queryFn: () =>
      take(
        api.GET("/api/workspaces/{workspace}/service-kinds", { params: { path: { workspace } } }),
      ),
    staleTime: Infinity,
  });

/** What a service would be handed for a sample. */
export const handoverSampleQuery = (
  workspace: string,
  service: Schemas["ServiceOut"],
  asked: Omit<Schemas["HandoverSampleIn"], "person" | "looks">,
) =>
  queryOptions({
    queryKey: ["handover-sample", workspace, service.id, service.read_at, asked],
    queryFn: () =>
      take(
        api.POST("/api/workspaces/{workspace}/services/{service}/sample", {
          params: { path: { workspace, service: service.id } },
          body: { ...asked, person: null, looks: true },
        }),
      ),
    staleTime: 30_000,
  });

/** A connection, whole. */
export const serviceQuery = (workspace: string, service: string) =>
  queryOptions({
    queryKey: ["service", workspace, service],
    queryFn: () =>
      take(
        api.GET("/api/workspaces/{workspace}/services/{service}", {
          params: { path: { workspace, service } },
        }),
      ),
    enabled: service !== "",
    ...follows(["services"], 5_000),
  });
