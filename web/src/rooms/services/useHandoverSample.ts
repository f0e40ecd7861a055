import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { api, take } from "../../api/client";
import { useSlug } from "../../api/workspace";
import { useSettled } from "../../parts/useSettled";
import type { Handover, Service } from "./queries";
import { usePassingSample } from "./SampleContext";

/** What would be sent of the sample, and for how many of the last people it would go wrong. */
export function useHandoverSample(service: Service, handover: Handover) {
  const workspace = useSlug();
  const passing = usePassingSample();
  const asked = useSettled({ handover, ...passing }, 400);
  return useQuery({
    queryKey: ["handover-sample", workspace, service.id, service.read_at, asked],
    queryFn: () =>
      take(
        api.POST("/api/workspaces/{workspace}/services/{service}/sample", {
          params: { path: { workspace, service: service.id } },
          body: { ...asked, person: null, looks: true },
        }),
      ),
    placeholderData: keepPreviousData,
    staleTime: 30_000,
  });
}
