import Typography from "@mui/material/Typography";
import { useQuery } from "@tanstack/react-query";
import { Link } from "react-router";
import { usesQuery } from "../../api/lists";
import { type Schemas } from "../../api/client";
import { useSlug } from "../../api/workspace";

type User = Schemas["UserOut"];

const WORDS: [string, string][] = [
  ["fills", "given by"],
  ["takes", "taken off by"],
  ["looks at", "used by"],
  ["belongs to", "for the emails of"],
];

/** What fills and uses the tags and lists of the workspace, by their ids. */
export function useUses() {
  const workspace = useSlug();
  return useQuery(usesQuery(workspace));
}

/** The routes and sequences that fill something and that use it, each a way there. */
export function UsedBy({ users, words = [] }: { users: User[]; words?: [string, string][] }) {
  const at = `/w/${useSlug()}`;
  return (
    <>
      {WORDS.map(([how, usual]) => {
        const word = words.find(([one]) => one === how)?.[1] ?? usual;
        const those = users.filter((one) => one.how === how);
        if (those.length === 0) return null;
        return (
          <Typography key={how} component="span" variant="body2" color="textSecondary">
            {" "}
            · {word}{" "}
            {those.slice(0, 4).map((one, index) => (
              <span key={one.pk}>
                {index > 0 && ", "}
                <Link to={`${at}/${one.kind === "source" ? "sources" : "sequences"}/${one.pk}`}>
                  {one.name}
                </Link>
                {!one.live && " (draft)"}
              </span>
            ))}
            {those.length > 4 && ` and ${those.length - 4} more`}
          </Typography>
        );
      })}
    </>
  );
}
