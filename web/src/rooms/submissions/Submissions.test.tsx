import { act, screen, waitFor } from "@testing-library/react";
import { http, HttpResponse } from "msw";
import { expect, test } from "vitest";
import { gives, server } from "../../testing/server";
import { show } from "../../testing/show";
import { Submissions } from "./Submissions";

test("the filter stands in the address and is what the server is asked for", async () => {
  const asked: string[] = [];
  gives("/sources", []);
  server.use(
    http.get(`${window.location.origin}/api/workspaces/moor/submissions`, ({ request }) => {
      asked.push(new URL(request.url).search);
      return HttpResponse.json({ submissions: [], total: 0, next: null });
    }),
  );
  const { user, router } = show(<Submissions />, "/w/moor/here?text=moon&unknown=1");
  expect(await screen.findByText(/^No submission fits\./)).toBeDefined();
  const search = { name: "Address or answer" };
  const box = await screen.findByRole<HTMLInputElement>("searchbox", search);
  expect(box.value).toBe("moon");
  await user.click(screen.getByRole("switch", { name: "Needs attention only" }));
  await waitFor(() => expect(asked.at(-1)).toBe("?state=attention&text=moon"));
  expect(router.state.location.search).toContain("state=attention");
  await user.click(screen.getByRole("button", { name: "Clear filters" }));
  await waitFor(() => expect(asked.at(-1)).toBe(""));
  await waitFor(() => expect(router.state.location.search).toBe("?unknown=1"));
  // A link to the same screen with another filter, and the way back.
  await act(() => router.navigate("/w/moor/here?state=held"));
  await waitFor(() => expect(asked.at(-1)).toBe("?state=held"));
  await act(() => router.navigate(-1));
  await waitFor(() => expect(router.state.location.search).toBe("?unknown=1"));
  await waitFor(() => expect(screen.queryByRole("button", { name: "Clear filters" })).toBeNull());
});
