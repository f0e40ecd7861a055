import type { Query, QueryClient } from "@tanstack/react-query";
import type { Schemas } from "./client";

/** What the server tells of: kinds of things that have changed. */
export type Topic = Schemas["Changes"]["topics"][number];

interface Follows {
  topics: readonly Topic[];
  /** Milliseconds that lie between two answers at least. */
  gap: number;
}

declare module "@tanstack/react-query" {
  interface Register {
    queryMeta: { follows?: Follows };
  }
}

/** What one tab tells the others: what has changed (perhaps everything), whether there is a stream; or it asks that. */
type Told = { topics: Topic[] } | "everything" | { streams: boolean } | "asks";

/** What follows nothing is asked again when a member did something: a name may stand there. */
const NOTHING: Follows = { topics: [], gap: 0 };
const PATIENCE = 8_000;
const TRIES_AGAIN = 60_000;
const AGAIN = 300;

let streams = true;

/** Whether changes are told; if not, whoever wants to know them asks from time to time. */
export const isStreaming = () => streams;

/**
 * A query that is asked again when something of these topics has changed, at most once in `gap` milliseconds; where
 * nothing tells of changes, so often.
 */
export function follows(topics: readonly Topic[], gap: number) {
  return {
    meta: { follows: { topics, gap } },
    refetchInterval: () => (streams ? (false as const) : Math.max(gap, 2_000)),
  };
}

/** Asks the shown queries again that follow what has changed, each at most once in its gap. */
export class Followers {
  private readonly waiting = new Map<string, ReturnType<typeof setTimeout>>();

  constructor(private readonly client: QueryClient) {}

  /** Something has changed. What a member did may stand anywhere: names, states, what refers to it. */
  tell(topics: readonly Topic[]) {
    if (topics.includes("acts")) this.again(() => true, true);
    else this.again((one) => one.topics.some((topic) => topics.includes(topic)));
  }

  /** Asks again whatever was answered before `moment`, and follows anything. */
  catchUp(moment: number) {
    this.again((one, query) => one !== NOTHING && query.state.dataUpdatedAt < moment);
  }

  /** Everything that follows anything, at once. */
  all() {
    void this.client.invalidateQueries({
      predicate: (query) => query.meta?.follows !== undefined,
      ...this.shown(),
    });
  }

  end() {
    for (const timer of this.waiting.values()) clearTimeout(timer);
    this.waiting.clear();
  }

  /** A tab that nobody sees asks when it is seen again. */
  private shown() {
    return { refetchType: document.hidden ? ("none" as const) : ("active" as const) };
  }

  private again(concerns: (follows: Follows, query: Query) => boolean, atOnce = false) {
    for (const query of this.client.getQueryCache().getAll()) {
      const follows = query.meta?.follows ?? NOTHING;
      if (!concerns(follows, query) || (this.waiting.has(query.queryHash) && !atOnce)) continue;
      const since = Date.now() - query.state.dataUpdatedAt;
      const seen = query.isActive() && !document.hidden;
      this.later(query, atOnce || !seen ? 0 : Math.max(0, follows.gap - since));
    }
  }

  private later(query: Query, wait: number) {
    clearTimeout(this.waiting.get(query.queryHash));
    this.waiting.set(
      query.queryHash,
      setTimeout(() => this.ask(query), wait),
    );
  }

  /** An answer that is on its way may be older than the change: then once more. */
  private ask(query: Query) {
    this.waiting.delete(query.queryHash);
    if (query.state.fetchStatus === "fetching") {
      this.later(query, AGAIN);
      return;
    }
    void this.client.invalidateQueries({
      predicate: (one) => one === query,
      ...this.shown(),
    });
  }
}

/**
 * Follows a workspace: one tab of the browser has the stream and tells the others, since a browser opens few
 * connections to one server. Returns what ends it.
 */
export function openStream(workspace: string, followers: Followers): () => void {
  const name = `changes of ${workspace}`;
  const others = new BroadcastChannel(name);
  const over = new AbortController();
  let source: EventSource | null = null;
  let leads = false;
  let known = false;
  let timer: ReturnType<typeof setTimeout> | undefined;

  const set = (now: boolean) => {
    const before = streams;
    streams = now;
    // Whoever asks from time to time begins to, or ends.
    if (before !== now) followers.all();
    else if (now && !known) followers.catchUp(Date.now());
    known = true;
  };
  const say = (told: Told) => {
    others.postMessage(told);
    hear(told);
  };
  const hear = (told: Told) => {
    if (told === "asks") {
      if (leads && known) others.postMessage({ streams } satisfies Told);
    } else if (told === "everything") followers.all();
    else if ("topics" in told) followers.tell(told.topics);
    else {
      if (!leads) clearTimeout(timer);
      set(told.streams);
    }
  };
  const connect = () => {
    clearTimeout(timer);
    timer = setTimeout(() => say({ streams: false }), PATIENCE);
    source = new EventSource(`/api/workspaces/${encodeURIComponent(workspace)}/stream`);
    source.onopen = () => {
      clearTimeout(timer);
      // What changed while there was none is not known.
      if (known && streams) say("everything");
      say({ streams: true });
    };
    source.onmessage = (event: MessageEvent<string>) => {
      say(JSON.parse(event.data) as { topics: Topic[] });
    };
    source.onerror = () => {
      clearTimeout(timer);
      if (source?.readyState !== EventSource.CLOSED) {
        timer = setTimeout(() => say({ streams: false }), PATIENCE);
        return;
      }
      say({ streams: false });
      timer = setTimeout(connect, TRIES_AGAIN);
    };
  };
  const lead = () =>
    new Promise<void>((resolve) => {
      leads = true;
      over.signal.addEventListener("abort", () => resolve());
      connect();
    });

  others.onmessage = (event: MessageEvent<Told>) => hear(event.data);
  if (!("EventSource" in window)) set(false);
  // Who has the lock has the stream; the next one gets it when that tab is closed.
  else if ("locks" in navigator) {
    void navigator.locks.request(name, { signal: over.signal }, lead).catch(() => undefined);
    others.postMessage("asks" satisfies Told);
    timer = setTimeout(() => {
      if (!leads && !known) set(false);
    }, PATIENCE);
  } else void lead();

  return () => {
    over.abort();
    clearTimeout(timer);
    source?.close();
    others.close();
    followers.end();
    streams = true;
  };
}
