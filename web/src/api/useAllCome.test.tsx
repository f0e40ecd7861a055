import { QueryClient, QueryClientProvider, useQuery } from "@tanstack/react-query";
import { act, render, screen } from "@testing-library/react";
import { afterEach, beforeEach, expect, test, vi } from "vitest";
import { useAllCome } from "./useAllCome";

/** Answers by the name of what is asked for; what has none is still on its way. */
let answers: Record<string, (say: string | Error) => void>;
let client: QueryClient;

beforeEach(() => {
  vi.useFakeTimers();
  answers = {};
  client = new QueryClient({ defaultOptions: { queries: { retry: 1, retryDelay: 60_000 } } });
});
afterEach(() => vi.useRealTimers());

const ask = (name: string) =>
  new Promise<string>((resolve, reject) => {
    answers[name] = (say) => (say instanceof Error ? reject(say) : resolve(say));
  });

/** A part that asks for one thing, and then shows what is within it. */
function Part({ name, children }: { name: string; children?: React.ReactNode }) {
  const { data } = useQuery({ queryKey: [name], queryFn: () => ask(name) });
  return data ? <>{children}</> : null;
}

function Room({ of, children }: { of: string; children: React.ReactNode }) {
  return (
    <>
      <p>{useAllCome(of) ? "shown" : "waiting"}</p>
      {children}
    </>
  );
}

const draw = (of: string, children: React.ReactNode) => (
  <QueryClientProvider client={client}>
    <Room of={of}>{children}</Room>
  </QueryClientProvider>
);
const told = async (name: string, say: string | Error) => {
  await act(async () => {
    answers[name]?.(say);
    await vi.advanceTimersByTimeAsync(50);
  });
};
const later = (milliseconds = 50) => act(() => vi.advanceTimersByTimeAsync(milliseconds));
const reads = (word: string) => expect(screen.queryByText(word)).not.toBeNull();

test("it waits for all that is asked for, also for what an answer has asked for", async () => {
  render(
    draw(
      "a",
      <>
        <Part name="lists">
          <Part name="counts" />
        </Part>
        <Part name="tags" />
      </>,
    ),
  );
  await later();
  reads("waiting");
  await told("tags", "some");
  await told("lists", "some");
  reads("waiting");
  await told("counts", "some");
  reads("shown");
});

test("nothing to ask for, nothing to wait for", async () => {
  render(draw("a", null));
  await later();
  reads("shown");
});

test("what fails is not waited for", async () => {
  render(draw("a", <Part name="lists" />));
  await later();
  await told("lists", new Error("no"));
  reads("shown");
});

test("what takes too long is not waited for", async () => {
  render(draw("a", <Part name="lists" />));
  await later(2_900);
  reads("waiting");
  await later(200);
  reads("shown");
});

test("what is asked for afterwards takes nothing away; another room waits anew", async () => {
  const { rerender } = render(draw("a", <Part name="lists" />));
  await later();
  await told("lists", "some");
  reads("shown");
  rerender(
    draw(
      "a",
      <>
        <Part name="lists" />
        <Part name="rows" />
      </>,
    ),
  );
  await later();
  reads("shown");
  rerender(draw("b", <Part name="other" />));
  await later();
  reads("waiting");
  await told("other", "some");
  reads("shown");
});
