import { follows } from "../../api/stream";
import { useQuery } from "@tanstack/react-query";
import { doorsQuery, sequenceQuery } from "../../api/sequences";
import { useSlug } from "../../api/workspace";

/** A sequence with its sheet and its counts. */
export function useSequence(sequence: string) {
  const workspace = useSlug();
  return useQuery({
    ...sequenceQuery(workspace, sequence),
    ...follows(["runs", "mail", "drafts", "snags"], 5_000),
  });
}

/** The rules of routes that start a sequence. */
export function useRoutes(sequence: string) {
  const workspace = useSlug();
  return useQuery(doorsQuery(workspace, sequence));
}
