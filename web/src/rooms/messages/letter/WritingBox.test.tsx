import { act, cleanup, render, screen } from "@testing-library/react";
import { useEffect } from "react";
import type { Editor } from "@tiptap/react";
import { afterEach, beforeAll, expect, test, vi } from "vitest";
import type { Saved } from "../../../drafts/DraftSession";
import { useDraft, type Draft } from "../../../drafts/useDraft";
import { withTokens } from "../liquid";
import { Letter } from "./LetterContext";
import { WritingBox } from "./WritingBox";

interface Document {
  subject: string;
  html: string;
}

const CONTEXT = {
  catalogue: {},
  fields: [{ key: "city", label: "City" }],
  pictures: [],
  style: { light: { accent: "#000", rule: "#000" } },
  words: {},
  readOnly: false,
  open: undefined,
  setOpen: () => undefined,
} as unknown as React.ComponentProps<typeof Letter>["value"];

/** A server that holds one document, and refuses what is based on another than it has. */
class Store {
  held: Saved<Document> = { document: { subject: "Dome", html: "<p>Hello</p>" }, edits: 1 };

  save = (document: Document, basedOn: number) => {
    if (basedOn !== this.held.edits) return Promise.reject(new Error("conflict"));
    this.held = { document, edits: this.held.edits + 1 };
    return Promise.resolve({ edits: this.held.edits });
  };
}

const now = {} as { draft: Draft<Document> };

function Writing({ stored, save }: { stored: Saved<Document>; save: Store["save"] }) {
  const draft = useDraft(stored, save);
  const { edit } = draft;
  useEffect(() => {
    now.draft = draft;
  });
  return (
    <Letter value={CONTEXT}>
      <input
        aria-label="Subject"
        value={draft.document.subject}
        onChange={(event) => edit((one) => ({ ...one, subject: event.target.value }))}
      />
      <WritingBox
        key={draft.takenOver}
        label="Text"
        html={draft.document.html}
        tools={false}
        onChange={(html) => edit((one) => ({ ...one, html }))}
      />
    </Letter>
  );
}

beforeAll(() => {
  // What the editor asks of a browser and jsdom has not.
  const none = () => [] as unknown as DOMRectList;
  vi.stubGlobal("ClipboardEvent", class extends Event {});
  Object.assign(Range.prototype, { getClientRects: none });
  Object.assign(Element.prototype, { getClientRects: none });
});

const editor = () =>
  (document.querySelector(".ProseMirror") as unknown as { editor: Editor }).editor;
const onScreen = () => withTokens(editor().getHTML());
const settle = () =>
  act(async () => {
    await now.draft.flush();
  });

afterEach(cleanup);

/** Numbers that look random, the same each time. */
function numbers(seed: number): () => number {
  let state = seed;
  return () => {
    state = (state * 1_103_515_245 + 12_345) % 2_147_483_648;
    return state / 2_147_483_648;
  };
}

const DEEDS = ["type", "paste", "strong", "subject", "undo", "redo", "theirs", "reload"] as const;

test("whatever one does, the screen shows what the draft holds and the server stores it", async () => {
  const counts = new Map<string, number>();
  let back = 0;
  for (let seed = 1; seed <= 8; seed++) {
    const random = numbers(seed);
    const store = new Store();
    let view = render(<Writing stored={store.held} save={store.save} />);
    for (let step = 0; step < 24; step++) {
      const deed = DEEDS[Math.floor(random() * DEEDS.length)] ?? "type";
      counts.set(deed, (counts.get(deed) ?? 0) + 1);
      const before = onScreen();
      const { subject } = now.draft.document;
      await act(async () => {
        switch (deed) {
          case "type":
            editor().commands.insertContent(`w${step}`);
            break;
          case "paste":
            editor().view.pasteHTML(`<p>p${step} <b style="font-weight:normal">{{ city }}</b></p>`);
            break;
          case "strong":
            editor().chain().selectAll().toggleBold().run();
            break;
          case "subject":
            now.draft.edit((one) => ({ ...one, subject: `${one.subject}${step}` }));
            break;
          case "undo":
            now.draft.undo();
            break;
          case "redo":
            now.draft.redo();
            break;
          case "theirs":
            await now.draft.flush();
            store.held = {
              document: { subject: `theirs ${step}`, html: `<p>theirs ${step}</p>` },
              edits: store.held.edits + 1,
            };
            now.draft.takeOver(store.held);
            break;
          case "reload":
            await now.draft.flush();
            break;
        }
      });
      if (deed === "reload") {
        view.unmount();
        view = render(<Writing stored={store.held} save={store.save} />);
      }
      expect(onScreen(), `${seed}/${step} ${deed}`).toBe(now.draft.document.html);
      expect(screen.getByLabelText<HTMLInputElement>("Subject").value).toBe(
        now.draft.document.subject,
      );
      if (deed === "undo" && (onScreen() !== before || now.draft.document.subject !== subject))
        back++;
      if (step % 5 === 4) {
        await settle();
        expect(store.held.document).toEqual(now.draft.document);
      }
    }
    await settle();
    expect(store.held.document).toEqual(now.draft.document);
    view.unmount();
  }
  for (const deed of DEEDS) expect(counts.get(deed)).toBeGreaterThan(14);
  expect(back).toBeGreaterThan(8);
}, 120_000);

test("a key after undo does not bring back what was undone", async () => {
  const store = new Store();
  render(<Writing stored={store.held} save={store.save} />);
  act(() => void editor().commands.setContent("<p>Hello wrong</p>", { emitUpdate: true }));
  act(() => now.draft.undo());
  expect(onScreen()).toBe("<p>Hello</p>");
  act(
    () =>
      void editor()
        .chain()
        .setTextSelection(editor().state.doc.content.size)
        .insertContent("!")
        .run(),
  );
  expect(onScreen()).toBe("<p>Hello!</p>");
  await settle();
  expect(store.held.document.html).toBe("<p>Hello!</p>");
});
