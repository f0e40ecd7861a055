import Box from "@mui/material/Box";
import { useEffect } from "react";
import { Navigate, Outlet, useLocation } from "react-router";
import { ApiError } from "../api/client";
import { useSession } from "../api/session";
import { useStream } from "../api/useStream";
import { useWorkspace } from "../api/workspace";
import { LeaveGuard } from "../drafts/LeaveGuard";
import { keepFocus } from "./focus/keeper";
import { useFormats } from "./formats";
import { Keys } from "./Keys";
import { Loading } from "./Loading";
import { Rail } from "./Rail";
import { SignInAgain } from "./SignInAgain";
import { SkipLink } from "./SkipLink";
import { Unhandled } from "./Unhandled";

/** What changes elsewhere is shown as it changes. */
function Changes() {
  useStream();
  return null;
}

/** The rail on the left, and the room beside it. */
export function Shell() {
  const session = useSession();
  const workspace = useWorkspace();
  const here = useLocation();
  const formats = useFormats();
  useEffect(keepFocus, []);
  if (session.isPending) return <Loading />;
  // Somebody who was in signs in again over what is open.
  if (session.data?.address === null && !workspace.data) {
    const next = encodeURIComponent(here.pathname + here.search + here.hash);
    return <Navigate to={`/sign-in?next=${next}`} replace />;
  }
  const missing = workspace.error instanceof ApiError && workspace.error.status === 404;
  if (workspace.isPending || (session.error && !session.data) || missing) {
    return <Loading error={session.error ?? workspace.error} />;
  }
  return (
    <Box
      sx={{ display: { xs: "block", md: "flex" }, alignItems: "flex-start", minHeight: "100vh" }}
    >
      <SkipLink />
      <Rail />
      {/* What is written in another way is shown anew. */}
      <Outlet key={Object.values(formats).join()} />
      <Unhandled />
      <SignInAgain />
      <LeaveGuard />
      <Keys />
      <Changes />
    </Box>
  );
}
