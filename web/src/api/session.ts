import { useQuery } from "@tanstack/react-query";
import { api, take } from "./client";

/** Who is signed in. */
export function useSession() {
  return useQuery({ queryKey: ["session"], queryFn: () => take(api.GET("/api/session")) });
}
