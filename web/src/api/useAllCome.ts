import { useIsFetching, useQueryClient, type Query } from "@tanstack/react-query";
import { useEffect, useState } from "react";

/** Asked for by what is on the screen, never there yet, and not failing. */
const FIRST = {
  predicate: (query: Query) =>
    query.isActive() && query.state.status === "pending" && query.state.fetchFailureCount === 0,
};
/** Milliseconds. What takes longer is shown when it comes, and nobody waits for it any more. */
const PATIENCE = 3_000;

/**
 * Whether all that is shown first has come, so that nothing moves under whoever clicks in it. What fails
 * is not waited for; and once it is so for `of`, it stays so: nothing that is asked for later, or again,
 * takes it away from whoever works in it.
 */
export function useAllCome(of: string): boolean {
  const client = useQueryClient();
  const [come, setCome] = useState<string>();
  const coming = useIsFetching(FIRST);
  useEffect(() => {
    // After the effects of everything that was drawn with it: what those ask for is waited for too.
    const timer = window.setTimeout(() => {
      if (client.isFetching(FIRST) === 0) setCome(of);
    });
    return () => window.clearTimeout(timer);
  }, [client, coming, of]);
  useEffect(() => {
    const timer = window.setTimeout(() => setCome(of), PATIENCE);
    return () => window.clearTimeout(timer);
  }, [of]);
  return come === of;
}
