import { keepPreviousData, queryOptions } from "@tanstack/react-query";
import { api, take, type Schemas } from "./client";

type Asked = Schemas["AskedIn"][];

/** A condition as a sentence, which can be typed too. */
export const sayQuery = (workspace: string, condition: Schemas["Group"], asked: Asked) =>
  queryOptions({
    queryKey: ["say", workspace, condition, asked],
    queryFn: () =>
      take(
        api.POST("/api/workspaces/{workspace}/conditions/say", {
          params: { path: { workspace } },
          body: { condition, asked },
        }),
      ),
    // A rename elsewhere is another sentence.
    staleTime: 0,
    gcTime: 0,
  });

/** What a typed sentence says, and the ways on from the cursor. */
export const typedQuery = (workspace: string, text: string, cursor: number, asked: Asked) =>
  queryOptions({
    queryKey: ["typed", workspace, text, cursor, asked],
    queryFn: () =>
      take(
        api.POST("/api/workspaces/{workspace}/conditions/typed", {
          params: { path: { workspace } },
          body: { text, cursor, asked },
        }),
      ),
    placeholderData: keepPreviousData,
    gcTime: 0,
  });
