import { useSyncExternalStore } from "react";

let out = false;
const listeners = new Set<() => void>();

/** Whether a session has ended while a page of it is open: the server has said that nobody is signed in. */
export const signedOut = {
  now: () => out,
  set: (value: boolean) => {
    if (value === out) return;
    out = value;
    for (const listener of listeners) listener();
  },
  subscribe: (listener: () => void): (() => void) => {
    listeners.add(listener);
    return () => listeners.delete(listener);
  },
};

export function useSignedOut(): boolean {
  return useSyncExternalStore(signedOut.subscribe, signedOut.now);
}
