import { ThemeProvider } from "@mui/material/styles";
import { QueryClientProvider } from "@tanstack/react-query";
import { render } from "@testing-library/react";
import userEvent from "@testing-library/user-event";
import type { ReactNode } from "react";
import { AddressState } from "../parts/AddressState";
import { createBrowserRouter, Outlet, RouterProvider } from "react-router";
import { LeaveGuard } from "../drafts/LeaveGuard";
import { queries } from "../api/queries";
import { theme } from "../theme";
import { gives } from "./server";

/** Shows something in the workspace “moor”, as a member who may change things. */
export function show(element: ReactNode, at = "/w/moor/here") {
  gives("", {
    slug: "moor",
    name: "Moor",
    role: "owner",
    time_zone: "UTC",
    now: "2026-05-03T10:00:00Z",
  });
  // The state in the address is read from the window, as in a browser.
  window.history.replaceState(null, "", at);
  const router = createBrowserRouter([
    {
      path: "/w/:workspace",
      element: (
        <>
          <Outlet />
          <LeaveGuard />
        </>
      ),
      children: [
        { path: "here", element },
        { path: "elsewhere", element: <p>Another room</p> },
      ],
    },
  ]);
  render(
    <ThemeProvider theme={theme}>
      <QueryClientProvider client={queries}>
        <AddressState>
          <RouterProvider router={router} />
        </AddressState>
      </QueryClientProvider>
    </ThemeProvider>,
  );
  return { user: userEvent.setup(), router };
}
