import Stack from "@mui/material/Stack";
import { Link } from "react-router";
import { useSlug } from "../../api/workspace";

const ROOMS: [string, string][] = [
  ["", "Messages"],
  ["style", "House style"],
  ["pictures", "Pictures"],
  ["delivery", "Delivery"],
];

/** The ways between what belongs to messages. */
export function MailRooms({ here }: { here: string }) {
  const workspace = useSlug();
  return (
    <Stack component="nav" aria-label="Mail" direction="row" spacing={2} sx={{ pt: 1.25 }}>
      {ROOMS.map(([path, word]) =>
        path === here ? (
          <strong key={path} aria-current="page">
            {word}
          </strong>
        ) : (
          <Link key={path} to={`/w/${workspace}/messages${path ? `/${path}` : ""}`}>
            {word}
          </Link>
        ),
      )}
    </Stack>
  );
}
