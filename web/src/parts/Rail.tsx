import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Menu from "@mui/material/Menu";
import MenuItem from "@mui/material/MenuItem";
import Typography from "@mui/material/Typography";
import { useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { NavLink, useNavigate } from "react-router";
import { api, take } from "../api/client";
import { useSession } from "../api/session";
import { useSlug, useWorkspace } from "../api/workspace";
import { useOpenSnags } from "../rooms/snags/useSnags";
import { useMoments } from "./moment";

const ROOMS = ["Desk", "Sources", "People", "Lists", "Sequences", "Messages", "Services", "Snags"];

/** The rooms, in words; below, the workspace, its time where it is moved, and the member. */
export function Rail() {
  const slug = useSlug();
  const { data: snags } = useOpenSnags();
  return (
    <Box
      component="nav"
      aria-label="Rooms"
      sx={{
        width: { md: 152 },
        flexShrink: 0,
        position: { md: "sticky" },
        top: 0,
        height: { md: "100vh" },
        display: "flex",
        flexDirection: { xs: "row", md: "column" },
        flexWrap: { xs: "wrap", md: "nowrap" },
        borderRight: { md: 1 },
        borderBottom: { xs: 1, md: 0 },
        borderColor: { xs: "divider", md: "divider" },
        p: { xs: 1, md: 2 },
        gap: { xs: 1, md: 0 },
      }}
    >
      <Typography sx={{ fontWeight: 600, color: "primary.main", mb: { md: 2 }, px: 1 }}>
        Yalla
      </Typography>
      {ROOMS.map((room) => (
        <Box
          key={room}
          component={NavLink}
          to={`/w/${slug}/${room.toLowerCase()}`}
          sx={{
            px: 1,
            py: 0.5,
            color: "text.primary",
            textDecoration: "none",
            borderLeft: 3,
            borderColor: "transparent",
            "&:hover": { textDecoration: "underline" },
            "&.active": { borderColor: "primary.main", fontWeight: 600 },
          }}
        >
          {room}
          {room === "Snags" && snags !== undefined && snags.length > 0 && (
            <Box component="span" sx={{ color: "error.main", ml: 0.75 }}>
              {snags.length}
            </Box>
          )}
        </Box>
      ))}
      <Box sx={{ mt: { md: "auto" }, ml: { xs: "auto", md: 0 } }}>
        <Workspace />
      </Box>
    </Box>
  );
}

function Workspace() {
  const [anchor, setAnchor] = useState<HTMLElement | null>(null);
  const { data: session } = useSession();
  const { data: workspace } = useWorkspace();
  const moments = useMoments();
  const client = useQueryClient();
  const go = useNavigate();
  const slug = useSlug();
  const signOut = async () => {
    await take(api.DELETE("/api/session"));
    client.clear();
    await go("/sign-in");
  };
  return (
    <>
      {workspace?.clock_ahead && (
        <Typography variant="caption" component="div" color="warning" sx={{ px: 1 }}>
          Clock moved: {moments.moment(workspace.now)}
        </Typography>
      )}
      <Button
        onClick={(event) => setAnchor(event.currentTarget)}
        aria-haspopup="menu"
        sx={{
          textAlign: "left",
          whiteSpace: "normal",
          justifyContent: "flex-start",
          lineHeight: 1.3,
        }}
      >
        {workspace?.name}
      </Button>
      <Menu open={Boolean(anchor)} anchorEl={anchor} onClose={() => setAnchor(null)}>
        {session?.workspaces.map((one) => (
          <MenuItem
            key={one.slug}
            selected={one.slug === slug}
            onClick={() => {
              setAnchor(null);
              void go(`/w/${one.slug}/desk`);
            }}
          >
            {one.name}
          </MenuItem>
        ))}
        <MenuItem divider onClick={() => void go("/?new")}>
          New workspace …
        </MenuItem>
        <MenuItem
          onClick={() => {
            setAnchor(null);
            void go(`/w/${slug}/settings`);
          }}
        >
          Settings
        </MenuItem>
        <MenuItem onClick={() => void signOut()}>Sign out ({session?.name})</MenuItem>
      </Menu>
    </>
  );
}
