import { follows } from "../../api/stream";
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { serviceKindsQuery, serviceQuery, servicesQuery } from "../../api/services";
import { type Schemas } from "../../api/client";
import { useReload, useSlug } from "../../api/workspace";

export type Service = Schemas["ServiceOut"];
export type Handover = Schemas["Handover"];

/** All connections, with their figures. */
export function useServices() {
  const workspace = useSlug();
  return useQuery({ ...servicesQuery(workspace), ...follows(["services"], 5_000) });
}

/** The descriptions that ship. */
export function useServiceKinds() {
  const workspace = useSlug();
  return useQuery(serviceKindsQuery(workspace));
}

/** One connection, whole. */
export function useService(service: string) {
  return useQuery(serviceQuery(useSlug(), service));
}

/** Does something with a connection, and keeps what it is afterwards. */
export function useServiceAct(service: string) {
  const workspace = useSlug();
  const client = useQueryClient();
  const reload = useReload();
  return useMutation({
    mutationFn: (act: (path: { workspace: string; service: string }) => Promise<Service>) =>
      act({ workspace, service }),
    onSuccess: (found) => {
      client.setQueryData(serviceQuery(workspace, service).queryKey, found);
      // Not waited for: what the caller does next would come after what somebody does meanwhile.
      void reload("services", "catalogue", "snags", "source");
    },
    // Shown where it was asked for.
    onError: () => undefined,
  });
}
