import { screen, waitFor, within } from "@testing-library/react";
import { useQuery } from "@tanstack/react-query";
import { Link } from "react-router";
import { expect, test } from "vitest";
import type { Schemas } from "../api/client";
import { messageQuery } from "../api/messages";
import { formatsNow } from "../parts/formats";
import { http } from "msw";
import { SignInAgain } from "../parts/SignInAgain";
import { gives, ok, refusal, server, takes } from "../testing/server";
import { show } from "../testing/show";
import { SaveNote } from "./SaveNote";
import { Unsaved } from "./Unsaved";
import { useDocument } from "./useDocument";

type Message = Schemas["MessageOut"];

const message = (subject: string, edits: number) =>
  ({ id: "m", name: "Guide", edits, document: { subject } }) as unknown as Message;

function Editor({ stored }: { stored: Message }) {
  const { draft, load, discard } = useDocument("message", stored);
  const { edit } = draft;
  return (
    <>
      <SaveNote state={draft.state} slow={draft.slow} />
      <Unsaved draft={draft} load={load} />
      <input
        aria-label="Subject"
        value={draft.document.subject}
        onChange={(event) => edit((before) => ({ ...before, subject: event.target.value }))}
      />
      <button onClick={() => void discard()}>Discard</button>
      <output>{stored.edits}</output>
      <Link to="/w/moor/elsewhere">Leave</Link>
    </>
  );
}

function Sheet() {
  const { data } = useQuery(messageQuery("moor", "m"));
  return data ? <Editor stored={data} /> : null;
}

const subject = () => screen.findByRole<HTMLInputElement>("textbox", { name: "Subject" });

test("a draft saves itself on what was seen, and the thing follows", async () => {
  gives("/messages/m", message("Hello", 4));
  const sent = takes("put", "/messages/m/draft", (body: { document: { subject: string } }) =>
    ok(message(body.document.subject, 5)),
  );
  const { user } = show(<Sheet />);
  await user.type(await subject(), "!");
  expect(await screen.findByText("Draft saved")).toBeDefined();
  await waitFor(() => expect(screen.getByRole("status", { name: "" })).toBeDefined());
  await waitFor(() => expect(screen.getByText("5")).toBeDefined());
  expect(sent).toEqual([{ document: { subject: "Hello!" }, based_on: 4 }]);
});

test("what somebody else saved is not overwritten until it is said so", async () => {
  gives("/messages/m", message("Hello", 4));
  const sent = takes("put", "/messages/m/draft", (body: { document: { subject: string } }, call) =>
    call === 1
      ? refusal(409, "Somebody else changed this draft.")
      : ok(message(body.document.subject, 10)),
  );
  const { user } = show(<Sheet />);
  await user.type(await subject(), "!");
  expect(await screen.findByText("Somebody else changed this draft.")).toBeDefined();
  gives("/messages/m", message("Theirs", 9));
  await user.click(screen.getByRole("button", { name: "Overwrite it" }));
  expect(await screen.findByText("Draft saved")).toBeDefined();
  expect(sent).toEqual([
    { document: { subject: "Hello!" }, based_on: 4 },
    { document: { subject: "Hello!" }, based_on: 9 },
  ]);
});

test("leaving waits for a slow server, and asks where it fails", async () => {
  gives("/messages/m", message("Hello", 4));
  let answer: (response: Response) => void = () => undefined;
  const slow = () => new Promise<Response>((resolve) => (answer = resolve));
  takes("put", "/messages/m/draft", slow);
  const { user } = show(<Sheet />);
  await user.type(await subject(), "!");
  await user.click(screen.getByRole("link", { name: "Leave" }));
  await new Promise((resolve) => setTimeout(resolve, 50));
  expect(screen.queryByText("Another room")).toBeNull();
  answer(refusal(503, "This does not work right now."));
  expect(await screen.findByRole("dialog")).toBeDefined();
  await user.click(screen.getByRole("button", { name: "Stay here" }));
  expect((await subject()).value).toBe("Hello!");
  await user.click(await screen.findByRole("button", { name: "Try again" }));
  await new Promise((resolve) => setTimeout(resolve, 50));
  await user.click(screen.getByRole("link", { name: "Leave" }));
  answer(ok(message("Hello!", 5)));
  expect(await screen.findByText("Another room")).toBeDefined();
});

test("a draft that is discarded gives way to what is live", async () => {
  gives("/messages/m", message("Draft", 4));
  takes("post", "/messages/m/discard", () => {
    gives("/messages/m", message("Live", 5));
    return ok(message("Live", 5));
  });
  const { user } = show(<Sheet />);
  expect((await subject()).value).toBe("Draft");
  await user.click(screen.getByRole("button", { name: "Discard" }));
  await waitFor(async () => expect((await subject()).value).toBe("Live"));
});

test("a save whose answer was lost is no conflict with oneself", async () => {
  let stored = message("Dome", 1);
  server.use(http.get("*/messages/m", () => ok(stored)));
  const saves = takes("put", "/messages/m/draft", () => {
    // It was stored, and based on what is over by now.
    stored = { ...message("Domes", 2), document: { preheader: null, subject: "Domes" } as never };
    return refusal(409, "You changed this message in another window.");
  });
  const { user } = show(<Sheet />);
  await user.type(await subject(), "s");
  await waitFor(() => expect(saves).toHaveLength(1));
  expect(await screen.findByText("Draft saved")).toBeDefined();
  expect(screen.queryByText("Use the saved version")).toBeNull();
});

test("one signs in again over the page, and the edit goes on", async () => {
  let signedIn = false;
  const ines = {
    address: "ines@larkmoor.example",
    name: "Ines",
    workspaces: [],
    csrf: "",
    formats: formatsNow(),
  };
  gives("/messages/m", message("Dome", 1));
  const saves = takes("put", "/messages/m/draft", () =>
    signedIn ? ok(message("Domes", 2)) : refusal(401, "Sign in first."),
  );
  server.use(
    http.get("*/api/session", () => ok(ines)),
    http.post("*/api/session", async ({ request }) => {
      signedIn = ((await request.json()) as { password: string }).password === "right";
      return signedIn ? ok(ines) : refusal(401, "The address or the password is not right.");
    }),
  );
  const { user } = show(
    <>
      <Sheet />
      <SignInAgain />
    </>,
  );
  await user.type(await subject(), "s");
  const dialog = await screen.findByRole("dialog", { name: "You have been signed out" });
  const password = within(dialog).getByLabelText(/Password/);
  expect(within(dialog).getByLabelText<HTMLInputElement>(/Email/).value).toBe(ines.address);
  await user.type(password, "wrong");
  await user.click(within(dialog).getByRole("button", { name: "Sign in" }));
  await within(dialog).findByText(/is not right/);
  await user.clear(password);
  await user.type(password, "right");
  await user.click(within(dialog).getByRole("button", { name: "Sign in" }));
  await waitFor(() => expect(screen.queryByRole("dialog")).toBeNull());
  expect(await screen.findByText("Draft saved")).toBeDefined();
  expect((await subject()).value).toBe("Domes");
  expect(saves.at(-1)).toEqual({ document: { subject: "Domes" }, based_on: 1 });
});
