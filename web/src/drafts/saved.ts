import { ApiError } from "../api/client";

/** What a save is based on: a draft's count of edits, or the version of a form. */
export type Edits = number | string;

export interface Saved<Document, Of extends Edits = number> {
  document: Document;
  edits: Of;
}

/** `unsaved`: it waits for whoever saves it by hand. */
export type SaveState = "saved" | "saving" | "unsaved" | "failed" | "conflict";

/** What a screen shows of a session. The same object as long as nothing of it changed. */
export interface Snapshot<Document, Of extends Edits = number> {
  document: Document;
  state: SaveState;
  error: unknown;
  /** The edits of what is stored, which the next save is based on. */
  savedEdits: Of;
  /** Whether a save has had no answer for longer than one waits. */
  slow: boolean;
  /** How often the whole document was replaced from outside. */
  takenOver: number;
  canUndo: boolean;
  canRedo: boolean;
}

/** Saves a document; what is stored then, where the server may keep it otherwise than it was sent. */
export type Save<Document, Of extends Edits = number> = (
  document: Document,
  basedOn: Of,
) => Promise<{ edits: Of; document?: Document }>;

export interface SessionOptions<Document, Of extends Edits> {
  /** Whether it is saved by hand: what takes effect at once is not saved half written. */
  byHand?: boolean;
  /**
   * What is stored now. With it, what somebody else has changed since is kept beside what was changed
   * here, and saved together, unless both changed the same thing.
   */
  load?: () => Promise<Saved<Document, Of>>;
}

/** Counts of edits grow; of two versions of a form the one that comes later is the newer one. */
export function isNewer(stored: Edits, here: Edits): boolean {
  return typeof stored === "number" && typeof here === "number" ? stored > here : stored !== here;
}

/** Whether a save that failed may get through later as it is: no network, a busy server, nobody signed in. */
export function mayPass(error: unknown): boolean {
  if (!(error instanceof ApiError)) return true;
  return [0, 401, 408, 425, 429].includes(error.status) || error.status >= 500;
}
