import { queryOptions } from "@tanstack/react-query";
import { api, take } from "./client";

export type WordingOf = "form" | "list";

/** The fixed texts that a form or a list can word for itself, with the usual words of a language. */
export const wordingQuery = (workspace: string, about: WordingOf, language: string) =>
  queryOptions({
    queryKey: ["wording", workspace, about, language],
    staleTime: Infinity,
    queryFn: () =>
      take(
        api.GET("/api/workspaces/{workspace}/wording", {
          params: { path: { workspace }, query: { about, language } },
        }),
      ),
  });
