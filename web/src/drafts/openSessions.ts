import type { DraftSession } from "./DraftSession";

/* eslint-disable @typescript-eslint/no-explicit-any -- sessions of any document, side by side */
type Session = DraftSession<any, any>;

/** The sessions of all that is open, or was closed with something in it that is not saved. */
const open = new Set<Session>();

export function keep(session: Session): void {
  open.add(session);
}

export function letGo(session: Session): void {
  open.delete(session);
}

/** Whether anything is not saved. */
export function anyUnsaved(): boolean {
  return [...open].some((one) => one.dirty);
}

/** Saves what saves itself, and with `byHand` what a member saves; whether all of it is saved now. What a
 * member is saving at the moment is waited for. */
export async function saveAll(byHand: boolean): Promise<boolean> {
  const unsaved = [...open].filter((one) => one.dirty);
  await Promise.all(unsaved.map((one) => (byHand || !one.byHand ? one.flush() : one.settled())));
  return !anyUnsaved();
}

/** Nothing of what is unsaved is saved later. */
export function abandonAll(): void {
  for (const one of open) one.abandon();
}
