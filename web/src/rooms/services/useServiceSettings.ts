import { api, take, type Schemas } from "../../api/client";
import { useServiceAct, type Service } from "./queries";

type Settings = Required<Schemas["ServiceIn"]>;

/** The settings of a connection, and changing some of them. */
export function useServiceSettings(service: Service) {
  const act = useServiceAct(service.id);
  const settings: Settings = {
    name: service.name,
    purpose: service.purpose,
    list_id: service.list_id,
    passes_leaving: service.passes_leaving,
    passes_erasing: service.passes_erasing,
    hears_unknown: service.hears_unknown,
    hears_leaving: service.hears_leaving,
    poll_minutes: service.poll_minutes,
    hears: Object.fromEntries(service.heard_kinds.map((one) => [one.type, one.rule])),
  };
  const change = (part: Partial<Settings>) =>
    act.mutate((path) =>
      take(
        api.PUT("/api/workspaces/{workspace}/services/{service}", {
          params: { path },
          body: { ...settings, ...part },
        }),
      ),
    );
  return { settings, change, error: act.error };
}
