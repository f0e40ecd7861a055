import { ApiError } from "../api/client";
import { isSame } from "./isSame";
import { CONFLICT, merged } from "./merged";
import {
  isNewer,
  mayPass,
  type Edits,
  type Save,
  type Saved,
  type SaveState,
  type SessionOptions,
  type Snapshot,
} from "./saved";

export type { Edits, Save, Saved, SaveState, SessionOptions, Snapshot } from "./saved";

/** Milliseconds after the last edit until it is saved. */
export const QUIET = 500;
/** Milliseconds after which a failed save is tried again; then always the last. */
export const AGAIN = [2_000, 5_000, 15_000];
/** Milliseconds without an answer after which that is said. */
export const LONG = 10_000;
/** Edits closer together than this are undone as one. */
const ONE_STEP = 900;
const MOST_STEPS = 200;

/**
 * A document while it is edited: it saves itself half a second after the last edit, one save at
 * a time, each based on the edits of the one before, so that the server notices somebody else's.
 * Something is unsaved from the first keystroke until the server has answered for it. A save that
 * failed for a reason that passes is tried again by itself.
 */
export class DraftSession<Document, Of extends Edits = number> {
  private document: Document;
  private edits: Of;
  /** What is stored, as far as it is known here. */
  private stored: Document;
  /** Counts the changes here; `saved` is the count that the server has. */
  private version = 0;
  private saved = 0;
  private state: SaveState = "saved";
  private error: unknown;
  private takenOver = 0;
  private failures = 0;
  private slow = false;
  private undone: Document[] = [];
  private done: Document[] = [];
  private lastEdit = -Infinity;
  private timer: ReturnType<typeof setTimeout> | undefined;
  private again: ReturnType<typeof setTimeout> | undefined;
  private running: Promise<boolean> | undefined;
  private listeners = new Set<() => void>();
  private shown: Snapshot<Document, Of>;

  constructor(
    stored: Saved<Document, Of>,
    private save: Save<Document, Of>,
    private options: SessionOptions<Document, Of> = {},
  ) {
    this.document = stored.document;
    this.stored = stored.document;
    this.edits = stored.edits;
    this.shown = this.look();
  }

  subscribe = (listener: () => void): (() => void) => {
    this.listeners.add(listener);
    return () => this.listeners.delete(listener);
  };

  snapshot = (): Snapshot<Document, Of> => this.shown;

  /** Another way to save and to load, as a screen renders anew. */
  saveWith(save: Save<Document, Of>, load?: () => Promise<Saved<Document, Of>>): void {
    this.save = save;
    if (load) this.options = { ...this.options, load };
  }

  get byHand(): boolean {
    return this.options.byHand === true;
  }

  /** Whether something here is not on the server yet, a save that is under way among it. */
  get dirty(): boolean {
    return this.saved < this.version;
  }

  edit = (change: (before: Document) => Document): void => {
    const next = change(this.document);
    if (next === this.document) return;
    const now = Date.now();
    if (now - this.lastEdit > ONE_STEP || this.done.length === 0) {
      this.done = [...this.done, this.document].slice(-MOST_STEPS);
    }
    this.lastEdit = now;
    this.undone = [];
    this.put(next);
  };

  undo = (): void => this.step(this.done, this.undone);

  redo = (): void => this.step(this.undone, this.done);

  /**
   * Saves what is here now; the edits of what is stored then, or undefined where it is not.
   * Whoever waits gets the count of a save that holds what they saw.
   */
  flush = async (): Promise<Of | undefined> => {
    this.waitForNothing();
    const wanted = this.version;
    while (this.saved < wanted) {
      this.running ??= this.start();
      if (!(await this.running)) return undefined;
    }
    return this.edits;
  };

  /** Once what is being saved has its answer; nothing more is saved for it. */
  settled = async (): Promise<void> => {
    while (this.running) {
      await this.running;
      // Whoever saves may have to try once more, on what somebody else has changed.
      await Promise.resolve();
    }
  };

  /** Tries a save again that failed for a reason that may be over now. */
  retry = (): void => {
    if (this.state === "failed" && mayPass(this.error)) void this.flush();
  };

  /** What the server has now: taken over where nothing here is unsaved. */
  receive(stored: Saved<Document, Of>): void {
    if (isNewer(stored.edits, this.edits) && !this.dirty && !this.running) this.takeOver(stored);
  }

  /** Goes on with what is stored; what was not saved here is dropped. */
  takeOver = (theirs: Saved<Document, Of>): void => {
    this.waitForNothing();
    this.document = theirs.document;
    this.stored = theirs.document;
    this.edits = theirs.edits;
    this.saved = this.version;
    this.error = undefined;
    this.state = "saved";
    this.done = [];
    this.undone = [];
    this.takenOver += 1;
    this.tell();
  };

  /** Whoever leaves without saving means it: nothing that is unsaved here is saved later. */
  abandon = (): void => {
    this.waitForNothing();
    this.saved = this.version;
  };

  /** What is stored is as it was when this was opened or last saved: what was written since goes. */
  revert = (): void => this.takeOver({ document: this.stored, edits: this.edits });

  /** Saves what is here over what somebody else has stored since. */
  insist = (theirs: { edits: Of }): Promise<Of | undefined> => {
    this.edits = theirs.edits;
    this.version += 1;
    this.state = "saving";
    this.tell();
    return this.flush();
  };

  private step(from: Document[], to: Document[]): void {
    const next = from.pop();
    if (next === undefined) return;
    to.push(this.document);
    this.lastEdit = -Infinity;
    this.put(next);
  }

  private waitForNothing(): void {
    clearTimeout(this.timer);
    clearTimeout(this.again);
  }

  private put(document: Document): void {
    this.document = document;
    this.version += 1;
    clearTimeout(this.timer);
    if (!this.byHand) {
      this.state = "saving";
      this.timer = setTimeout(() => void this.flush(), QUIET);
    } else if (!this.running && isSame(document, this.stored)) {
      // Written back as it was: there is nothing to save.
      this.saved = this.version;
      this.state = "saved";
      this.error = undefined;
    } else this.state = "unsaved";
    this.tell();
  }

  /** One save; whether the server took it. */
  private async start(): Promise<boolean> {
    const { version, document } = this;
    this.state = "saving";
    this.tell();
    const late = setTimeout(() => {
      this.slow = true;
      this.tell();
    }, LONG);
    try {
      const answer = await this.save(document, this.edits);
      this.edits = answer.edits;
      this.stored = answer.document ?? document;
      this.saved = Math.max(this.saved, version);
      this.error = undefined;
      this.failures = 0;
      if (!this.dirty) {
        this.state = "saved";
        // Not while somebody writes: a blank at the end is cut off, say, before the next word.
        if (this.byHand) this.document = answer.document ?? this.document;
      } else if (this.byHand) this.state = "unsaved";
      return true;
    } catch (caught) {
      // What was taken over meanwhile is no failure any more.
      if (this.saved >= version) return true;
      const conflict = caught instanceof ApiError && caught.status === 409;
      if (conflict && (await this.merge())) return true;
      this.error = caught;
      this.state = conflict ? "conflict" : "failed";
      if (mayPass(caught)) {
        const wait = AGAIN[Math.min(this.failures, AGAIN.length - 1)];
        this.failures += 1;
        clearTimeout(this.again);
        this.again = setTimeout(this.retry, wait);
      }
      return false;
    } finally {
      clearTimeout(late);
      this.slow = false;
      this.running = undefined;
      this.tell();
    }
  }

  /** Takes what somebody else has changed elsewhere in it; false where both changed the same. */
  private async merge(): Promise<boolean> {
    if (!this.options.load) return false;
    const theirs = await this.options.load().catch(() => undefined);
    // Refused for another reason: it would be refused again.
    if (!theirs || theirs.edits === this.edits) return false;
    const both = merged(this.stored, this.document, theirs.document);
    if (both === CONFLICT) return false;
    this.document = both as Document;
    this.stored = theirs.document;
    this.edits = theirs.edits;
    return true;
  }

  private look(): Snapshot<Document, Of> {
    return {
      document: this.document,
      state: this.state,
      error: this.error,
      savedEdits: this.edits,
      slow: this.slow,
      takenOver: this.takenOver,
      canUndo: this.done.length > 0,
      canRedo: this.undone.length > 0,
    };
  }

  private tell(): void {
    this.shown = this.look();
    for (const listener of this.listeners) listener();
  }
}
