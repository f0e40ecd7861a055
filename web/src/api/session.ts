import { queryOptions, useQuery, type QueryClient } from "@tanstack/react-query";
import { setFormats } from "../parts/formats";
import { api, take, type Schemas } from "./client";

type Session = Schemas["SessionOut"];

/** Who is signed in. */
export const sessionQuery = queryOptions({
  queryKey: ["session"],
  queryFn: async () => known(await take(api.GET("/api/session"))),
});

/** Who is signed in. */
export function useSession() {
  return useQuery(sessionQuery);
}

/** Goes on with what the server says of the session. */
export function keepSession(client: QueryClient, session: Session): void {
  client.setQueryData(sessionQuery.queryKey, known(session));
}

function known(session: Session): Session {
  // Whoever is signed out goes on reading what is there as before.
  if (session.address !== null) setFormats(session.formats);
  return session;
}
