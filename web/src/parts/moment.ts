import { useWorkspace } from "../api/workspace";
import { dateFormat } from "./formats";

/** Writes moments in the workspace's zone: "24 Nov 2026, 09:41", short when it is today. */
export function useMoments() {
  const { data } = useWorkspace();
  const timeZone = data?.time_zone ?? "UTC";
  const date = dateFormat({ day: "numeric", month: "short", year: "numeric", timeZone });
  const time = dateFormat({ hour: "2-digit", minute: "2-digit", timeZone });
  const today = data ? date(new Date(data.now)) : "";
  return {
    /** Now, by the clock of the workspace. */
    now: () => new Date(data?.now ?? Date.now()),
    day: (iso: string) => date(new Date(iso)),
    time: (iso: string) => time(new Date(iso)),
    moment: (iso: string) => {
      const on = date(new Date(iso));
      const at = time(new Date(iso));
      return on === today ? `today ${at}` : `${on}, ${at}`;
    },
  };
}
