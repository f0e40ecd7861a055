import { queryOptions } from "@tanstack/react-query";
import { api, take } from "./client";

import type { Kind } from "../parts/thing/kinds";

/** What archiving or deleting a thing would touch. */
export const touchesQuery = (workspace: string, kind: Kind, thing: string) =>
  queryOptions({
    queryKey: ["touches", workspace, kind, thing],
    queryFn: () =>
      take(
        api.GET("/api/workspaces/{workspace}/things/{kind}/{thing}", {
          params: { path: { workspace, kind, thing } },
        }),
      ),
    staleTime: 0,
  });
