import { screen, waitFor } from "@testing-library/react";
import { useState } from "react";
import { Link } from "react-router";
import { expect, test, vi } from "vitest";
import { ApiError } from "../api/client";
import { show } from "../testing/show";
import { FormActions } from "./FormActions";
import type { Saved } from "./DraftSession";
import { useForm } from "./useForm";

interface Look {
  name: string;
  colours: { paper: string; ink: string };
}

const look = (name: string, paper: string, ink = "black"): Look => ({
  name,
  colours: { paper, ink },
});

/** A form's server: keeps versions, refuses what was not seen. */
function stores(first: Look) {
  let stored = first;
  let version = 1;
  const now = (): Saved<Look, string> => ({ document: stored, edits: `v${version}` });
  return {
    now,
    /** Another member saves. */
    other: (next: Look) => {
      stored = next;
      version += 1;
    },
    save: vi.fn(async (document: Look, basedOn: string) => {
      await Promise.resolve();
      if (basedOn !== `v${version}`) throw new ApiError(409, "Changed meanwhile.", []);
      stored = { ...document, name: document.name.trim() };
      version += 1;
      return now();
    }),
  };
}

/** The same, and what lets it answer a save. */
function slow(server: ReturnType<typeof stores>) {
  const { save } = server;
  let go: () => void = () => undefined;
  server.save = vi.fn(async (document: Look, basedOn: string) => {
    await new Promise<void>((done) => (go = done));
    return save(document, basedOn);
  });
  return [server, () => go()] as const;
}

let number = 0;

function opened(server: ReturnType<typeof stores>) {
  number += 1;
  const key = `look/${number}`;
  function Form() {
    const draft = useForm<Look>(key, server.now(), server.save, () =>
      Promise.resolve(server.now()),
    );
    const { form } = draft;
    return (
      <>
        <input
          aria-label="Name"
          value={form.name}
          onChange={(event) => draft.set({ name: event.target.value })}
        />
        <input
          aria-label="Paper"
          value={form.colours.paper}
          onChange={(event) =>
            draft.set({ colours: { ...form.colours, paper: event.target.value } })
          }
        />
        <FormActions draft={draft} />
      </>
    );
  }
  function Page() {
    const [open, setOpen] = useState(true);
    return (
      <>
        <button onClick={() => setOpen(!open)}>{open ? "Close" : "Open"}</button>
        {open && <Form />}
        <Link to="/w/moor/elsewhere">Leave</Link>
      </>
    );
  }
  return show(<Page />);
}

const box = (name: string) => screen.findByRole<HTMLInputElement>("textbox", { name });
const press = (name: string) => screen.getByRole("button", { name });

test("nothing is saved until it is asked for, and a form written back has nothing to save", async () => {
  const server = stores(look("Plain", "white"));
  const { user } = opened(server);
  await user.type(await box("Name"), "!");
  expect(screen.getByRole("status").textContent).toBe("Not saved yet");
  await user.keyboard("{Backspace}");
  expect(screen.getByRole("status").textContent).toBe("");
  await user.keyboard("er ");
  await new Promise((after) => setTimeout(after, 700));
  expect(server.save).not.toHaveBeenCalled();
  await user.click(press("Save"));
  await waitFor(() => expect(screen.getByRole("status").textContent).toBe("Saved"));
  // As the server keeps it.
  expect((await box("Name")).value).toBe("Plainer");
  expect(server.now().document).toEqual(look("Plainer", "white"));
});

test("what is written stays where the form is closed and opened again", async () => {
  const server = stores(look("Plain", "white"));
  const { user } = opened(server);
  await user.type(await box("Name"), "!");
  await user.click(press("Close"));
  await user.click(press("Open"));
  expect((await box("Name")).value).toBe("Plain!");
  await user.click(press("Undo changes"));
  expect((await box("Name")).value).toBe("Plain");
});

test("what another member changed elsewhere in it is kept beside one's own", async () => {
  const server = stores(look("Plain", "white"));
  const { user } = opened(server);
  await user.type(await box("Name"), "!");
  server.other(look("Plain", "ivory", "navy"));
  await user.click(press("Save"));
  await waitFor(() => expect(screen.getByRole("status").textContent).toBe("Saved"));
  expect(server.now().document).toEqual(look("Plain!", "ivory", "navy"));
  expect((await box("Paper")).value).toBe("ivory");
});

test("where both changed the same one is asked, and nothing is written over", async () => {
  const server = stores(look("Plain", "white"));
  const { user } = opened(server);
  await user.type(await box("Paper"), "!");
  server.other(look("Plain", "ivory"));
  await user.click(press("Save"));
  expect(await screen.findByText("Changed meanwhile.")).toBeDefined();
  expect(server.now().document).toEqual(look("Plain", "ivory"));
  await user.click(press("Overwrite it"));
  await waitFor(() => expect(server.now().document).toEqual(look("Plain", "white!")));
});

test("a save that is refused though nobody changed anything is asked about, and not sent for ever", async () => {
  const server = stores(look("Plain", "white"));
  server.save.mockRejectedValue(new ApiError(409, "Not now."));
  const { user } = opened(server);
  await user.type(await box("Name"), "!");
  await user.click(press("Save"));
  expect(await screen.findByText("Not now.")).toBeDefined();
  expect(server.save).toHaveBeenCalledTimes(1);
  await user.click(press("Undo changes"));
});

test("leaving asks: to stay, to save and leave, or to leave it", async () => {
  const server = stores(look("Plain", "white"));
  const { user } = opened(server);
  await user.type(await box("Name"), "!");
  await user.click(screen.getByRole("link", { name: "Leave" }));
  await user.click(await screen.findByRole("button", { name: "Stay here" }));
  expect((await box("Name")).value).toBe("Plain!");
  await user.click(press("Close"));
  await user.click(screen.getByRole("link", { name: "Leave" }));
  await user.click(await screen.findByRole("button", { name: "Save and leave" }));
  expect(await screen.findByText("Another room")).toBeDefined();
  expect(server.now().document.name).toBe("Plain!");
});

test("leaving waits for what is being saved, and asks nothing", async () => {
  const [server, answer] = slow(stores(look("Plain", "white")));
  const { user } = opened(server);
  await user.type(await box("Name"), "!");
  await user.click(press("Save"));
  await user.click(screen.getByRole("link", { name: "Leave" }));
  await new Promise((after) => setTimeout(after, 100));
  expect(screen.queryByText("Leave without saving?")).toBeNull();
  expect(screen.queryByText("Another room")).toBeNull();
  answer();
  expect(await screen.findByText("Another room")).toBeDefined();
  expect(server.now().document.name).toBe("Plain!");
});

test("leaving asks for what was written after a save began, and does not save it", async () => {
  const [server, answer] = slow(stores(look("Plain", "white")));
  const { user } = opened(server);
  await user.type(await box("Name"), "!");
  await user.click(press("Save"));
  await user.type(await box("Name"), "?");
  await user.click(screen.getByRole("link", { name: "Leave" }));
  answer();
  await user.click(await screen.findByRole("button", { name: "Leave without saving" }));
  expect(await screen.findByText("Another room")).toBeDefined();
  expect(server.now().document.name).toBe("Plain!");
  expect(server.save).toHaveBeenCalledTimes(1);
});

test("what was left is gone", async () => {
  const server = stores(look("Plain", "white"));
  const { user, router } = opened(server);
  await user.type(await box("Name"), "!");
  await user.click(screen.getByRole("link", { name: "Leave" }));
  await user.click(await screen.findByRole("button", { name: "Leave without saving" }));
  expect(await screen.findByText("Another room")).toBeDefined();
  await router.navigate(-1);
  expect((await box("Name")).value).toBe("Plain");
  expect(server.save).not.toHaveBeenCalled();
});
