import Typography from "@mui/material/Typography";
import { Link } from "react-router";
import type { Schemas } from "../../api/client";
import { useSlug } from "../../api/workspace";
import { peopleWho, tagged } from "../conditions/people";

const SHOWN = 12;

interface TagsSoFarProps {
  action: Schemas["TagFromAnswer"];
  tags: Schemas["CatalogueOut"]["tags"];
}

/** The tags that answers have made so far: those with the beginning, or of the stated set. */
export function TagsSoFar({ action, tags }: TagsSoFarProps) {
  const workspace = useSlug();
  const prefix = action.prefix.toLowerCase();
  const only = new Set(action.only.map((one) => `${prefix}${one.toLowerCase()}`));
  const made = tags.filter(({ name }) => {
    const lower = name.toLowerCase();
    return only.size > 0 ? only.has(lower) : prefix.trim() !== "" && lower.startsWith(prefix);
  });
  if (made.length === 0) return null;
  return (
    <Typography variant="body2" color="textSecondary" sx={{ width: "100%" }}>
      So far:{" "}
      {made.slice(0, SHOWN).map((one, index) => (
        <span key={one.id}>
          {index > 0 && ", "}
          <Link to={peopleWho(workspace, tagged(one.id))}>{one.name}</Link> ({one.people})
        </span>
      ))}
      {made.length > SHOWN && ` and ${made.length - SHOWN} more`}
    </Typography>
  );
}
