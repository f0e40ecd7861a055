import { number } from "../../parts/formats";

/** The second moment as seen from the first: "at once", "0.4 s later", "12 s later", "2 h later". */
export function later(from: string, to: string): string {
  const seconds = Math.max(0, (new Date(to).getTime() - new Date(from).getTime()) / 1000);
  return seconds < 0.05 ? "at once" : `${inWords(seconds)} later`;
}

function inWords(seconds: number): string {
  if (seconds < 10) return `${number(seconds, 1)} s`;
  if (seconds < 120) return `${Math.round(seconds)} s`;
  if (seconds < 7200) return `${Math.round(seconds / 60)} min`;
  return `${Math.round(seconds / 3600)} h`;
}
