import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { handoverSampleQuery } from "../../api/services";
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
    ...handoverSampleQuery(workspace, service, asked),
    placeholderData: keepPreviousData,
  });
}
