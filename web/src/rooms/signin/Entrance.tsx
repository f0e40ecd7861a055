import Box from "@mui/material/Box";
import Typography from "@mui/material/Typography";
import { useQueryClient } from "@tanstack/react-query";
import { Link, Navigate, useNavigate, useSearchParams } from "react-router";
import { api, take } from "../../api/client";
import { useSession } from "../../api/session";
import { Loading } from "../../parts/Loading";
import { NameDialog } from "../../parts/NameDialog";

/** Leads to the workspace; with none, or on request, makes one. */
export function Entrance() {
  const { data: session, error } = useSession();
  const [search] = useSearchParams();
  const client = useQueryClient();
  const go = useNavigate();
  if (!session) return <Loading error={error} />;
  if (session.address === null) return <Navigate to="/sign-in" replace />;
  const first = session.workspaces[0];
  if (first && !search.has("new")) return <Navigate to={`/w/${first.slug}/desk`} replace />;
  const make = async (name: string) => {
    const time_zone = Intl.DateTimeFormat().resolvedOptions().timeZone || "UTC";
    const made = await take(api.POST("/api/workspaces", { body: { name, time_zone } }));
    await client.invalidateQueries({ queryKey: ["session"] });
    await go(`/w/${made.slug}/settings`);
  };
  return (
    <Box component="main" sx={{ p: 4 }}>
      <Typography variant="h1" component="h1">
        Workspaces
      </Typography>
      <ul>
        {session.workspaces.map((one) => (
          <li key={one.slug}>
            <Link to={`/w/${one.slug}/desk`}>{one.name}</Link>
          </li>
        ))}
      </ul>
      <NameDialog
        title="New workspace"
        label="Organisation"
        hint="Each client or organisation has a workspace of its own."
        action="Make it"
        onClose={() => void go(first ? `/w/${first.slug}/desk` : "/sign-in")}
        onName={make}
      />
    </Box>
  );
}
