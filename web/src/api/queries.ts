import { QueryClient } from "@tanstack/react-query";
import { ApiError } from "./client";

export const queries = new QueryClient({
  defaultOptions: {
    queries: {
      staleTime: 2_000,
      retry: (count, error) => count < 2 && !(error instanceof ApiError && error.status >= 400),
    },
  },
});
