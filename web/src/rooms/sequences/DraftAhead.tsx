import { counted } from "../../parts/formats";
import Typography from "@mui/material/Typography";
import { useQuery } from "@tanstack/react-query";
import { changeAheadQuery } from "../../api/sequences";
import { type Schemas } from "../../api/client";
import { useCatalogue, useSlug } from "../../api/workspace";

/** What the changes alter in the next 30 days for the people in progress, by email. */
export function DraftAhead({ sequence }: { sequence: string }) {
  const workspace = useSlug();
  const { data: catalogue } = useCatalogue();
  const { data } = useQuery(changeAheadQuery(workspace, sequence));
  if (!data || data.looked_at === 0) return null;
  const names = new Map(catalogue?.messages.map((one) => [one.id, one.name]));
  const who =
    data.looked_at < data.people
      ? `the first ${data.looked_at} of ${counted(data.people, "person", "people")} in progress`
      : `${counted(data.people, "person", "people")} in progress`;
  return (
    <>
      <Typography variant="body2" sx={{ fontWeight: 600, mt: 1.5 }}>
        The next 30 days, for {who}
      </Typography>
      {data.emails.length === 0 && (
        <Typography variant="body2">The same emails at the same times.</Typography>
      )}
      {data.emails.map((one) => (
        <Typography key={one.message} variant="body2">
          {names.get(one.message) ?? "A message that is gone"}: {saying(one)}
        </Typography>
      ))}
    </>
  );
}

function saying(one: Schemas["AlteredOut"]): string {
  const count =
    one.before === one.after
      ? counted(one.after, "email", "emails")
      : `${counted(one.after, "email", "emails")} instead of ${one.before}`;
  return one.at_another_time > 0 ? `${count}, ${one.at_another_time} at another time` : count;
}
