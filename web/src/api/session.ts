import { queryOptions, useQuery } from "@tanstack/react-query";
import { api, take } from "./client";

/** Who is signed in. */
export const sessionQuery = queryOptions({
  queryKey: ["session"],
  queryFn: () => take(api.GET("/api/session")),
});

/** Who is signed in. */
export function useSession() {
  return useQuery(sessionQuery);
}
