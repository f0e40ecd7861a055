import { useWorkspace } from "../api/workspace";

const day: Intl.DateTimeFormatOptions = { day: "numeric", month: "short", year: "numeric" };
const clock: Intl.DateTimeFormatOptions = { hour: "2-digit", minute: "2-digit", hour12: false };

/** Writes moments in the workspace's zone: "24 Nov 2026, 09:41", short when it is today. */
export function useMoments() {
  const { data } = useWorkspace();
  const timeZone = data?.time_zone ?? "UTC";
  const date = new Intl.DateTimeFormat("en-GB", { ...day, timeZone });
  const time = new Intl.DateTimeFormat("en-GB", { ...clock, timeZone });
  const today = data ? date.format(new Date(data.now)) : "";
  return {
    /** Now, by the clock of the workspace. */
    now: () => new Date(data?.now ?? Date.now()),
    day: (iso: string) => date.format(new Date(iso)),
    time: (iso: string) => time.format(new Date(iso)),
    moment: (iso: string) => {
      const on = date.format(new Date(iso));
      const at = time.format(new Date(iso));
      return on === today ? `today ${at}` : `${on}, ${at}`;
    },
  };
}

/** "once", "12 times". */
export function times(count: number): string {
  return count === 1 ? "once" : `${count.toLocaleString("en-GB")} times`;
}

/** "1 person", "12 people". */
export function counted(count: number, one: string, many: string): string {
  return `${count.toLocaleString("en-GB")} ${count === 1 ? one : many}`;
}
