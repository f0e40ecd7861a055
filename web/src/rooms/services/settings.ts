import type { Schemas } from "../../api/client";
import type { Service } from "./queries";

/** The settings of a connection as they are, to be sent back with one of them changed. */
export function settingsOf(service: Service): Required<Schemas["ServiceIn"]> {
  return {
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
}
