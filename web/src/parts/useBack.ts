import { useLocation } from "react-router";

export interface Back {
  to: string;
  label: string;
}

/** What a link to another sheet carries along, so that its way back leads here. */
export function useComeBack(): { back: Back } {
  const { pathname, search, hash } = useLocation();
  return { back: { to: `${pathname}${search}${hash}`, label: "Back" } };
}

/** The way back of a sheet: to where the link to it was, or else to its list. */
export function useBack(list: Back): Back {
  const state = useLocation().state as { back?: Back } | null;
  return state?.back ?? list;
}
