import { useMutation } from "@tanstack/react-query";
import { useEffect, useRef } from "react";
import { api, take } from "../../api/client";
import { useReload, useSlug } from "../../api/workspace";
import type { Service } from "./queries";

/** Reads what a service takes anew where that is old, once, when somebody begins to map. */
export function useFreshFields(service: Service | undefined, readOnly: boolean) {
  const workspace = useSlug();
  const reload = useReload();
  const asked = useRef("");
  const { mutate } = useMutation({
    mutationFn: (pk: string) =>
      take(
        api.POST("/api/workspaces/{workspace}/services/{service}/read", {
          params: { path: { workspace, service: pk } },
        }),
      ),
    onSuccess: () => reload("service", "services", "catalogue", "snags", "source"),
    // The age that is shown says it; the band of the connection says why.
    onError: () => undefined,
  });
  const stale = service !== undefined && service.stale && service.state === "working";
  const pk = service?.id ?? "";
  useEffect(() => {
    if (!stale || readOnly || asked.current === pk) return;
    asked.current = pk;
    mutate(pk);
  }, [stale, readOnly, pk, mutate]);
}
