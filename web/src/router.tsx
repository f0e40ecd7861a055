import { createBrowserRouter, Navigate } from "react-router";
import { Crash } from "./parts/Crash";
import { Shell } from "./parts/Shell";
import { Desk } from "./rooms/desk/Desk";
import { Fields } from "./rooms/fields/Fields";
import { Lists } from "./rooms/lists/Lists";
import { MessageSheet } from "./rooms/messages/MessageSheet";
import { Messages } from "./rooms/messages/Messages";
import { MergeSheet } from "./rooms/people/MergeSheet";
import { People } from "./rooms/people/People";
import { Person } from "./rooms/people/Person";
import { Rehearsal } from "./rooms/replay/Rehearsal";
import { ReplaySheet } from "./rooms/replay/ReplaySheet";
import { SequenceSheet } from "./rooms/sequences/SequenceSheet";
import { Sequences } from "./rooms/sequences/Sequences";
import { History } from "./rooms/settings/History";
import { Settings } from "./rooms/settings/Settings";
import { Entrance } from "./rooms/signin/Entrance";
import { SignIn } from "./rooms/signin/SignIn";
import { Snags } from "./rooms/snags/Snags";
import { RevisionSheet } from "./rooms/sources/RevisionSheet";
import { RouteSheet } from "./rooms/sources/RouteSheet";
import { Sources } from "./rooms/sources/Sources";
import { Submission } from "./rooms/sources/Submission";
import { Submissions } from "./rooms/sources/Submissions";
import { Suppression } from "./rooms/suppression/Suppression";

const rooms = [
  { path: "desk", element: <Desk /> },
  { path: "sources", element: <Sources /> },
  { path: "sources/:source", element: <RouteSheet /> },
  { path: "sources/:source/revisions/:number", element: <RevisionSheet /> },
  { path: "sources/:source/replay", element: <ReplaySheet /> },
  { path: "sources/:source/rehearsal", element: <Rehearsal /> },
  { path: "submissions", element: <Submissions /> },
  { path: "submissions/:submission", element: <Submission /> },
  { path: "people", element: <People /> },
  { path: "people/:person", element: <Person /> },
  { path: "people/:person/merge", element: <MergeSheet /> },
  { path: "lists", element: <Lists /> },
  { path: "fields", element: <Fields /> },
  { path: "suppression", element: <Suppression /> },
  { path: "sequences", element: <Sequences /> },
  { path: "sequences/:sequence", element: <SequenceSheet /> },
  { path: "messages", element: <Messages /> },
  { path: "messages/:message", element: <MessageSheet /> },
  { path: "snags", element: <Snags /> },
  { path: "history", element: <History /> },
  { path: "settings", element: <Settings /> },
];

export const router = createBrowserRouter([
  { path: "/", element: <Entrance />, errorElement: <Crash /> },
  { path: "/sign-in", element: <SignIn />, errorElement: <Crash /> },
  {
    path: "/w/:workspace",
    element: <Shell />,
    errorElement: <Crash />,
    children: [
      { index: true, element: <Navigate to="desk" replace /> },
      // A crash of one room leaves the rail, and a way to the others.
      ...rooms.map((room) => ({ ...room, errorElement: <Crash /> })),
      { path: "*", element: <Crash missing /> },
    ],
  },
  { path: "*", element: <Crash missing /> },
]);
