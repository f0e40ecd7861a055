import { useQueryClient } from "@tanstack/react-query";
import { useEffect } from "react";
import { Followers, openStream } from "./stream";
import { useSlug, workspaceQuery } from "./workspace";

/** Follows the workspace of the address for as long as it is open, and lets its clock go on. */
export function useStream() {
  const workspace = useSlug();
  const client = useQueryClient();
  useEffect(() => openStream(workspace, new Followers(client)), [workspace, client]);
  useEffect(() => {
    const { queryKey } = workspaceQuery(workspace);
    const clock = setInterval(() => {
      const since = Date.now() - (client.getQueryState(queryKey)?.dataUpdatedAt ?? 0);
      client.setQueryData(
        queryKey,
        (known) =>
          known && { ...known, now: new Date(new Date(known.now).getTime() + since).toISOString() },
      );
    }, 60_000);
    return () => clearInterval(clock);
  }, [workspace, client]);
}
