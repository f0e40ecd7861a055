import { QueryClient, QueryObserver } from "@tanstack/react-query";
import { afterEach, beforeEach, describe, expect, it, vi } from "vitest";
import { Followers, follows, isStreaming, openStream, type Topic } from "./stream";

let client: QueryClient;
let asked: Record<string, number>;
const ends: (() => void)[] = [];

/** A query that is shown, answers at once (or after `takes`), and counts how often it was asked. */
async function show(name: string, topics: Topic[], gap: number, takes = 0) {
  const observer = new QueryObserver(client, {
    queryKey: [name, takes],
    queryFn: async () => {
      asked[name] = (asked[name] ?? 0) + 1;
      if (takes) await new Promise((resolve) => setTimeout(resolve, takes));
      return name;
    },
    ...follows(topics, gap),
  });
  ends.push(observer.subscribe(() => undefined));
  await vi.advanceTimersByTimeAsync(takes);
}

beforeEach(() => {
  vi.useFakeTimers();
  client = new QueryClient();
  asked = {};
});

afterEach(() => {
  for (const end of ends.splice(0)) end();
  client.clear();
  vi.unstubAllGlobals();
  vi.useRealTimers();
});

describe("queries that follow", () => {
  it("are asked again for their topics alone", async () => {
    await show("runs", ["runs"], 0);
    await show("mail", ["mail", "snags"], 0);
    const followers = new Followers(client);
    followers.tell(["snags"]);
    await vi.advanceTimersByTimeAsync(1);
    expect(asked).toEqual({ runs: 1, mail: 2 });
  });

  it("are asked at most once in their gap, and once after the last change", async () => {
    await show("runs", ["runs"], 5_000);
    const followers = new Followers(client);
    for (let second = 0; second < 20; second += 1) {
      followers.tell(["runs"]);
      await vi.advanceTimersByTimeAsync(1_000);
    }
    expect(asked["runs"]).toBe(5);
    await vi.advanceTimersByTimeAsync(60_000);
    expect(asked["runs"]).toBeLessThanOrEqual(6);
    const quiet = asked["runs"];
    await vi.advanceTimersByTimeAsync(600_000);
    expect(asked["runs"]).toBe(quiet);
  });

  it("are asked once more where the answer on its way may be older than the change", async () => {
    await show("runs", ["runs"], 0, 3_000);
    const followers = new Followers(client);
    followers.tell(["runs"]);
    await vi.advanceTimersByTimeAsync(10);
    expect(asked["runs"]).toBe(2);
    followers.tell(["runs"]);
    // Each answer comes: none is thrown away for the next.
    await vi.advanceTimersByTimeAsync(4_000);
    expect(asked["runs"]).toBe(3);
    await vi.advanceTimersByTimeAsync(60_000);
    expect(asked["runs"]).toBe(3);
  });

  it("wait while nobody sees the page", async () => {
    await show("runs", ["runs"], 0);
    vi.spyOn(document, "hidden", "get").mockReturnValue(true);
    new Followers(client).tell(["runs"]);
    await vi.advanceTimersByTimeAsync(10_000);
    expect(asked["runs"]).toBe(1);
    expect(client.getQueryState(["runs", 0])?.isInvalidated).toBe(true);
    vi.restoreAllMocks();
  });

  it("and all others are asked when a member did something", async () => {
    await show("runs", ["runs"], 5_000);
    await show("names", [], 5_000);
    new Followers(client).tell(["acts"]);
    await vi.advanceTimersByTimeAsync(1);
    expect(asked).toEqual({ runs: 2, names: 2 });
  });
});

class Source {
  static readonly CLOSED = 2;
  static all: Source[] = [];
  readyState = 1;
  onopen: () => void = () => undefined;
  onmessage: (event: { data: string }) => void = () => undefined;
  onerror: () => void = () => undefined;
  constructor(readonly url: string) {
    Source.all.push(this);
  }
  close() {
    this.readyState = 2;
  }
}

/** Web Locks as the specification has them: one holder, the others in turn. */
class Locks {
  private last = Promise.resolve();
  request(_name: string, options: { signal: AbortSignal }, work: () => Promise<void>) {
    const mine = this.last.then(() => (options.signal.aborted ? undefined : work()));
    this.last = mine;
    return mine;
  }
}

/** Tabs of one browser: what one posts, the others hear. */
class Channel {
  static all = new Set<Channel>();
  onmessage: ((event: { data: unknown }) => void) | null = null;
  constructor() {
    Channel.all.add(this);
  }
  postMessage(data: unknown) {
    for (const one of Channel.all) if (one !== this) one.onmessage?.({ data });
  }
  close() {
    Channel.all.delete(this);
  }
}

describe("the stream of a browser", () => {
  beforeEach(() => {
    Source.all = [];
    Channel.all.clear();
    vi.stubGlobal("EventSource", Source);
    vi.stubGlobal("BroadcastChannel", Channel);
    Object.defineProperty(navigator, "locks", { value: new Locks(), configurable: true });
  });

  it("is one for all tabs, and goes on in the next when its tab is closed", async () => {
    await show("runs", ["runs"], 0);
    const first = openStream("observatory", new Followers(new QueryClient()));
    await vi.advanceTimersByTimeAsync(1);
    const second = openStream("observatory", new Followers(client));
    await vi.advanceTimersByTimeAsync(1);
    expect(Source.all.map((one) => one.url)).toEqual(["/api/workspaces/observatory/stream"]);
    Source.all[0]?.onopen();
    await vi.advanceTimersByTimeAsync(1);
    asked["runs"] = 0;
    Source.all[0]?.onmessage({ data: '{"topics": ["runs"]}' });
    await vi.advanceTimersByTimeAsync(1);
    expect(asked["runs"]).toBe(1);
    first();
    await vi.advanceTimersByTimeAsync(1);
    expect(Source.all).toHaveLength(2);
    second();
  });

  it("is replaced by asking from time to time where it fails, and back when it is there", async () => {
    await show("runs", ["runs"], 5_000);
    const end = openStream("observatory", new Followers(client));
    await vi.advanceTimersByTimeAsync(1);
    expect(isStreaming()).toBe(true);
    const source = Source.all[0];
    if (source) source.readyState = 2;
    source?.onerror();
    expect(isStreaming()).toBe(false);
    await vi.advanceTimersByTimeAsync(30_000);
    expect(asked["runs"]).toBeGreaterThanOrEqual(6);
    await vi.advanceTimersByTimeAsync(31_000);
    expect(Source.all).toHaveLength(2);
    Source.all[1]?.onopen();
    await vi.advanceTimersByTimeAsync(6_000);
    const before = asked["runs"];
    await vi.advanceTimersByTimeAsync(600_000);
    expect(asked["runs"]).toBe(before);
    expect(isStreaming()).toBe(true);
    end();
  });

  it("asks for everything once more where it was interrupted", async () => {
    await show("runs", ["runs"], 5_000);
    const end = openStream("observatory", new Followers(client));
    await vi.advanceTimersByTimeAsync(1);
    const source = Source.all[0];
    source?.onopen();
    await vi.advanceTimersByTimeAsync(20_000);
    const before = asked["runs"] ?? 0;
    source?.onerror();
    await vi.advanceTimersByTimeAsync(2_000);
    source?.onopen();
    await vi.advanceTimersByTimeAsync(1);
    expect(asked["runs"]).toBe(before + 1);
    end();
  });

  it("says that there is none where the browser has none, and asks", () => {
    vi.stubGlobal("EventSource", undefined);
    Reflect.deleteProperty(window, "EventSource");
    const end = openStream("observatory", new Followers(client));
    expect(isStreaming()).toBe(false);
    end();
  });
});
