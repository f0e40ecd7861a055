import { MutationCache, QueryClient } from "@tanstack/react-query";
import { ApiError } from "./client";

/** Says an error that nothing else shows; set by the shell. */
export const unhandled: { say: (error: unknown) => void } = { say: () => undefined };

export const queries = new QueryClient({
  mutationCache: new MutationCache({
    // A mutation that has a handler of its own says it where it happened.
    onError: (error, _variables, _context, mutation) => {
      if (!mutation.options.onError) unhandled.say(error);
    },
  }),
  defaultOptions: {
    // Without a network it fails at once and says so. Waiting for one would do later, unseen, what
    // somebody wanted then.
    mutations: { networkMode: "always" },
    queries: {
      networkMode: "always",
      staleTime: 2_000,
      retry: (count, error) => count < 2 && !(error instanceof ApiError && error.status >= 400),
    },
  },
});
