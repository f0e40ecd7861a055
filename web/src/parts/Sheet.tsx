import Box from "@mui/material/Box";
import Stack from "@mui/material/Stack";
import Typography from "@mui/material/Typography";
import type { ReactNode } from "react";
import { useEffect } from "react";
import { Link, useLocation } from "react-router";
import { goTo } from "./Findings";

interface SheetProps {
  title: ReactNode;
  /** What the browser's tab is called. */
  name: string;
  back?: { to: string; label: string };
  state?: ReactNode;
  actions?: ReactNode;
  children: ReactNode;
}

/** A link to a line (`#rule`) leads there, once it is on the page. */
function useHash() {
  const { hash, key } = useLocation();
  useEffect(() => {
    const place = decodeURIComponent(hash.slice(1));
    if (!place) return undefined;
    let tries = 40;
    const timer = window.setInterval(() => {
      tries -= 1;
      if (document.getElementById(place)) goTo({ place });
      if (tries <= 0 || document.getElementById(place)) window.clearInterval(timer);
    }, 100);
    return () => window.clearInterval(timer);
  }, [hash, key]);
}

/** A calm page read from top to bottom, its head always in sight. */
export function Sheet({ title, name, back, state, actions, children }: SheetProps) {
  useEffect(() => {
    document.title = `${name} · Yalla`;
  }, [name]);
  useHash();
  return (
    <Box component="main" sx={{ minWidth: 0, flex: 1, pb: 8 }}>
      <Box
        component="header"
        sx={{
          // On a phone it would take a third of the screen.
          position: { xs: "static", sm: "sticky" },
          top: 0,
          zIndex: 5,
          bgcolor: "background.default",
          borderBottom: 1,
          borderColor: "divider",
          px: { xs: 2, md: 3 },
          py: 1.25,
        }}
      >
        {back && (
          <Typography variant="caption">
            <Link to={back.to}>← {back.label}</Link>
          </Typography>
        )}
        <Stack
          direction="row"
          spacing={2}
          useFlexGap
          sx={{ alignItems: "center", flexWrap: "wrap" }}
        >
          <Typography variant="h1" component="h1" sx={{ minWidth: 0, overflowWrap: "anywhere" }}>
            {title}
          </Typography>
          {state}
          <Stack
            direction="row"
            spacing={1}
            useFlexGap
            sx={{ ml: { sm: "auto !important" }, alignItems: "center", flexWrap: "wrap" }}
          >
            {actions}
          </Stack>
        </Stack>
      </Box>
      <Box sx={{ px: { xs: 2, md: 3 } }}>{children}</Box>
    </Box>
  );
}
