import type { QueryKey } from "@tanstack/react-query";
import type { ComponentType } from "react";
import { createBrowserRouter, Navigate, type LoaderFunction, type RouteObject } from "react-router";
import { loaded } from "./api/loading";
import { queries } from "./api/queries";
import { sessionQuery } from "./api/session";
import { latelyQuery, seenQuery, sourceQuery } from "./api/sources";
import { catalogueQuery, workspaceQuery } from "./api/workspace";
import { Crash } from "./parts/Crash";
import { Shell } from "./parts/Shell";
import { Entrance } from "./rooms/signin/Entrance";
import { SignIn } from "./rooms/signin/SignIn";

/** Has what a room shows asked for while its script is loaded; nothing waits for it here. */
function asks(query: { queryKey: QueryKey }) {
  if (queries.getQueryState(query.queryKey) === undefined) {
    void queries.query(query).catch(() => undefined);
  }
}

const asksForWorkspace: LoaderFunction = ({ params: { workspace = "" } }) => {
  asks(sessionQuery);
  asks(workspaceQuery(workspace));
  asks(catalogueQuery(workspace));
  return null;
};

const asksForSource: LoaderFunction = ({ params: { workspace = "", source = "" } }) => {
  asks(sourceQuery(workspace, source));
  asks(seenQuery(workspace, source));
  asks(latelyQuery(workspace, source));
  return null;
};

/** Loads the page anew, where somebody is going. */
function loadAnew() {
  const to = router.state.navigation.location;
  if (to) window.location.assign(to.pathname + to.search + to.hash);
  else window.location.reload();
}

/** A room whose script is loaded when somebody first goes there. */
function room<Name extends string>(
  path: string,
  name: Name,
  load: () => Promise<Record<Name, ComponentType>>,
  loader?: LoaderFunction,
): RouteObject {
  return {
    path,
    loader,
    // Where a script fails on the first page of a visit, the router shows nothing for good: so it does not
    // fail, and the room says what is wrong.
    lazy: () =>
      loaded(load, loadAnew).then(
        (part) => ({ Component: part[name] }),
        () => ({ element: <Crash notLoaded /> }),
      ),
    // A crash of one room leaves the rail, and a way to the others.
    errorElement: <Crash />,
  };
}

const rooms = [
  room("desk", "Desk", () => import("./rooms/desk/Desk")),
  room("sources", "Sources", () => import("./rooms/sources/Sources")),
  room("sources/:source", "RouteSheet", () => import("./rooms/sources/RouteSheet"), asksForSource),
  room(
    "sources/:source/revisions/:number",
    "RevisionSheet",
    () => import("./rooms/sources/RevisionSheet"),
  ),
  room(
    "sequences/:sequence/revisions/:number",
    "SequenceRevision",
    () => import("./rooms/sequences/SequenceRevision"),
  ),
  room("sources/:source/replay", "ReplaySheet", () => import("./rooms/replay/ReplaySheet")),
  room("sources/:source/rehearsal", "Rehearsal", () => import("./rooms/replay/Rehearsal")),
  room("submissions", "Submissions", () => import("./rooms/submissions/Submissions")),
  room("submissions/:submission", "Submission", () => import("./rooms/submissions/Submission")),
  room("people", "People", () => import("./rooms/people/People")),
  room("people/:person", "Person", () => import("./rooms/people/Person")),
  room("people/:person/merge", "MergeSheet", () => import("./rooms/people/MergeSheet")),
  room("audiences", "Audiences", () => import("./rooms/audiences/Audiences")),
  room("audiences/:audience", "AudienceSheet", () => import("./rooms/audiences/AudienceSheet")),
  room(
    "audiences/:audience/revisions/:number",
    "AudienceRevision",
    () => import("./rooms/audiences/AudienceRevision"),
  ),
  room("lists", "Lists", () => import("./rooms/lists/Lists")),
  room("fields", "Fields", () => import("./rooms/fields/Fields")),
  room("suppression", "Suppression", () => import("./rooms/suppression/Suppression")),
  room("sequences", "Sequences", () => import("./rooms/sequences/Sequences")),
  room("sequences/ahead", "Ahead", () => import("./rooms/sequences/Ahead")),
  room("sequences/:sequence", "SequenceSheet", () => import("./rooms/sequences/SequenceSheet")),
  room("messages", "Messages", () => import("./rooms/messages/Messages")),
  room("messages/:message", "MessageSheet", () => import("./rooms/messages/MessageSheet")),
  room(
    "messages/:message/revisions/:number",
    "MessageRevision",
    () => import("./rooms/messages/MessageRevision"),
  ),
  room("messages/style", "HouseStyle", () => import("./rooms/messages/HouseStyle")),
  room("messages/pictures", "Pictures", () => import("./rooms/messages/Pictures")),
  room("messages/delivery", "Delivery", () => import("./rooms/messages/Delivery")),
  room("broadcasts", "Broadcasts", () => import("./rooms/broadcasts/Broadcasts")),
  room(
    "broadcasts/:broadcast",
    "BroadcastSheet",
    () => import("./rooms/broadcasts/BroadcastSheet"),
  ),
  room(
    "broadcasts/:broadcast/revisions/:number",
    "BroadcastRevision",
    () => import("./rooms/broadcasts/BroadcastRevision"),
  ),
  room("services", "Services", () => import("./rooms/services/Services")),
  room("services/:service", "ServiceSheet", () => import("./rooms/services/ServiceSheet")),
  room("services/:service/agreed", "Agreed", () => import("./rooms/services/Agreed")),
  room("snags", "Snags", () => import("./rooms/snags/Snags")),
  room("history", "History", () => import("./rooms/settings/History")),
  room("settings", "Settings", () => import("./rooms/settings/Settings")),
];

export const router = createBrowserRouter([
  { path: "/", element: <Entrance />, errorElement: <Crash /> },
  { path: "/sign-in", element: <SignIn />, errorElement: <Crash /> },
  {
    path: "/w/:workspace",
    loader: asksForWorkspace,
    element: <Shell />,
    errorElement: <Crash />,
    hydrateFallbackElement: <></>,
    children: [
      { index: true, element: <Navigate to="desk" replace /> },
      ...rooms,
      { path: "*", element: <Crash missing /> },
    ],
  },
  { path: "*", element: <Crash missing /> },
]);
