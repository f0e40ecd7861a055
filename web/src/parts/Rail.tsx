import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Drawer from "@mui/material/Drawer";
import Menu from "@mui/material/Menu";
import MenuItem from "@mui/material/MenuItem";
import Typography from "@mui/material/Typography";
import useMediaQuery from "@mui/material/useMediaQuery";
import { useQueryClient } from "@tanstack/react-query";
import { Fragment, useState, type ReactNode } from "react";
import { NavLink, useLocation, useNavigate } from "react-router";
import { api, take } from "../api/client";
import { useSession } from "../api/session";
import { useSlug, useWorkspace } from "../api/workspace";
import { useOpenSnags } from "../rooms/snags/useSnags";
import { LOW } from "../theme";
import { useMoments } from "./moment";

/** The rooms, and what belongs to each. */
const ROOMS: [string, ...string[]][] = [
  ["Desk"],
  ["Sources", "Submissions"],
  ["People", "Audiences", "Suppression"],
  ["Lists", "Fields"],
  ["Sequences"],
  ["Messages"],
  ["Broadcasts"],
  ["Services"],
  ["Snags"],
  ["Settings"],
];

/** The workspace, and the rooms in words; on a phone one bar with a menu. */
export function Rail() {
  const isPhone = useMediaQuery((theme) => theme.breakpoints.down("md"), { noSsr: true });
  const [open, setOpen] = useState(false);
  const { pathname } = useLocation();
  const [shown, setShown] = useState(() => pathname);
  // Whoever has chosen a room wants to see it.
  if (shown !== pathname) {
    setShown(pathname);
    setOpen(false);
  }
  if (!isPhone) {
    return (
      <Box
        sx={{
          width: 184,
          flexShrink: 0,
          position: "sticky",
          top: 0,
          height: "100vh",
          overflowY: "auto",
          borderRight: 1,
          borderColor: "divider",
          py: 1.5,
        }}
      >
        <Workspace />
        <Rooms />
      </Box>
    );
  }
  return (
    <>
      <Box
        sx={{
          height: 48,
          position: "sticky",
          top: 0,
          [LOW]: { position: "static" },
          zIndex: 6,
          display: "flex",
          alignItems: "center",
          justifyContent: "space-between",
          bgcolor: "background.default",
          borderBottom: 1,
          borderColor: "divider",
          px: 1,
        }}
      >
        <Workspace />
        <Button aria-expanded={open} onClick={() => setOpen(true)}>
          Menu
        </Button>
      </Box>
      <Drawer anchor="right" open={open} onClose={() => setOpen(false)}>
        <Box sx={{ width: 240, py: 1.5 }}>
          <Rooms />
        </Box>
      </Drawer>
    </>
  );
}

function Rooms() {
  const slug = useSlug();
  const { data: snags } = useOpenSnags();
  return (
    <Box component="nav" aria-label="Rooms">
      {ROOMS.map(([room, ...within]) => (
        <Fragment key={room}>
          <Room to={`/w/${slug}/${room.toLowerCase()}`}>
            {room}
            {room === "Snags" && snags !== undefined && snags.length > 0 && (
              <Box component="span" sx={{ color: "error.main", ml: 0.75 }}>
                {snags.length}
              </Box>
            )}
          </Room>
          {within.map((one) => (
            <Room key={one} to={`/w/${slug}/${one.toLowerCase()}`} within>
              {one}
            </Room>
          ))}
        </Fragment>
      ))}
    </Box>
  );
}

function Room({ to, within, children }: { to: string; within?: boolean; children: ReactNode }) {
  return (
    <Box
      component={NavLink}
      to={to}
      sx={{
        display: "block",
        pl: within ? 3.75 : 2,
        pr: 2,
        py: 0.5,
        fontSize: within ? "0.875rem" : undefined,
        color: within ? "text.secondary" : "text.primary",
        textDecoration: "none",
        borderLeft: 3,
        borderColor: "transparent",
        "&:hover": { textDecoration: "underline" },
        "&.active": { borderColor: "primary.main", fontWeight: 600, color: "text.primary" },
      }}
    >
      {children}
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
      <Button
        onClick={(event) => setAnchor(event.currentTarget)}
        aria-haspopup="menu"
        sx={{
          textAlign: "left",
          whiteSpace: "normal",
          justifyContent: "flex-start",
          lineHeight: 1.3,
          px: { xs: 1, md: "19px" },
          mb: { md: workspace?.clock_ahead ? 0 : 1 },
        }}
      >
        {workspace?.name}
      </Button>
      {workspace?.clock_ahead && (
        <Typography
          variant="caption"
          component="div"
          color="warning"
          sx={{ px: { xs: 1, md: "19px" }, mb: { md: 1 } }}
        >
          Clock moved: {moments.moment(workspace.now)}
        </Typography>
      )}
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
