import Box from "@mui/material/Box";
import Stack from "@mui/material/Stack";
import Typography from "@mui/material/Typography";
import { keyframes } from "@mui/material/styles";
import type { ReactNode } from "react";
import { useEffect, useRef } from "react";
import { Link, useLocation } from "react-router";
import { useAllCome } from "../api/useAllCome";
import { goTo } from "./Findings";
import { LOW } from "../theme";
import { CONTENT } from "./SkipLink";

interface SheetProps {
  title: ReactNode;
  /** What the browser's tab is called. */
  name: string;
  back?: { to: string; label: string };
  state?: ReactNode;
  actions?: ReactNode;
  /** What hangs from the head while the sheet is read. */
  below?: ReactNode;
  children: ReactNode;
}

/** A link to a line (`#rule`) leads there, once the sheet has come and the line is on it. */
function useHash(come: boolean) {
  const { hash, key } = useLocation();
  useEffect(() => {
    const place = decodeURIComponent(hash.slice(1));
    if (!place || !come) return undefined;
    let tries = 40;
    const timer = window.setInterval(() => {
      tries -= 1;
      if (document.getElementById(place)) goTo({ place });
      if (tries <= 0 || document.getElementById(place)) window.clearInterval(timer);
    }, 100);
    return () => window.clearInterval(timer);
  }, [hash, key, come]);
}

/** Seen only where it takes a while: what is there at once does not flicker. */
const LATER = {
  animation: `${keyframes({ from: { visibility: "hidden" }, to: { visibility: "hidden" } })} 300ms`,
};

let wasSomewhere = false;

/** Whoever comes into another room begins at its heading, unless something in it has the focus. */
function useHeadingFocus() {
  const heading = useRef<HTMLHeadingElement>(null);
  const { pathname, hash } = useLocation();
  useEffect(() => {
    const own = document.activeElement?.closest("main");
    if (wasSomewhere && !hash && !own) heading.current?.focus({ preventScroll: true });
    wasSomewhere = true;
    // A link to a line leads there instead.
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [pathname]);
  return heading;
}

/**
 * A calm page read from top to bottom, its head always in sight. What is under the head shows when all of
 * it is there, and not piece by piece.
 */
export function Sheet({ title, name, back, state, actions, below, children }: SheetProps) {
  useEffect(() => {
    document.title = `${name} · Yalla`;
  }, [name]);
  const come = useAllCome(useLocation().pathname);
  useHash(come);
  const heading = useHeadingFocus();
  return (
    <Box
      component="main"
      id={CONTENT}
      tabIndex={-1}
      aria-busy={!come}
      sx={{ minWidth: 0, flex: 1, pb: 8, outline: 0 }}
    >
      <Box
        component="header"
        sx={{
          // On a phone it would take a third of the screen.
          position: { xs: "static", sm: "sticky" },
          // Below the bar that stands in place of the rail.
          top: { xs: 48, md: 0 },
          zIndex: 5,
          bgcolor: "background.default",
          borderBottom: 1,
          borderColor: "divider",
          px: { xs: 2, md: 3 },
          py: 1.25,
          [LOW]: {
            top: 0,
            py: 0.5,
            display: "flex",
            alignItems: "center",
            gap: 2,
            overflowX: "auto",
            "& .line": { flexWrap: "nowrap", flexShrink: 0 },
            "& h1": {
              fontSize: "1rem",
              maxWidth: 240,
              overflow: "hidden",
              textOverflow: "ellipsis",
            },
            "& h1, & .back": { whiteSpace: "nowrap" },
          },
        }}
      >
        {back && (
          <Typography variant="caption" className="back">
            <Link to={back.to}>← {back.label}</Link>
          </Typography>
        )}
        <Stack
          className="line"
          direction="row"
          spacing={2}
          useFlexGap
          sx={{ alignItems: "center", flexWrap: "wrap" }}
        >
          <Typography
            ref={heading}
            tabIndex={-1}
            variant="h1"
            component="h1"
            sx={{ minWidth: 0, overflowWrap: "anywhere", outline: 0 }}
          >
            {title}
          </Typography>
          {state}
          <Stack
            className="line"
            direction="row"
            spacing={1}
            useFlexGap
            sx={{ ml: { sm: "auto !important" }, alignItems: "center", flexWrap: "wrap" }}
          >
            {actions}
          </Stack>
        </Stack>
        {below}
      </Box>
      {!come && (
        <Typography color="textSecondary" sx={{ position: "absolute", p: 3, ...LATER }}>
          Loading …
        </Typography>
      )}
      <Box sx={{ px: { xs: 2, md: 3 }, visibility: come ? undefined : "hidden" }}>{children}</Box>
    </Box>
  );
}
