import { screen } from "@testing-library/react";
import { useState } from "react";
import { expect, test } from "vitest";
import { gives } from "../testing/server";
import { show } from "../testing/show";
import { OwnWords } from "./OwnWords";

const TEXTS = [
  { key: "optional", group: "Beside the questions", usual: "freiwillig", tokens: [] },
  { key: "why", group: "Footer of every email", usual: "Wegen {{ list }}", tokens: ["list"] },
  { key: "leave", group: "Footer of every email", usual: "Abmelden", tokens: [] },
];

function Kept({ begins, wrong }: { begins: Record<string, string>; wrong?: string }) {
  const [words, setWords] = useState(() => begins);
  const [language, setLanguage] = useState("de");
  return (
    <>
      <button onClick={() => setLanguage(language === "de" ? "fr" : "de")}>Another language</button>
      <OwnWords
        about="list"
        language={language}
        words={words}
        wrong={(key) => (key === "why" ? wrong : undefined)}
        onChange={setWords}
      />
      <p data-testid="kept">{JSON.stringify(words)}</p>
    </>
  );
}

test("groups open one at a time; an own text is kept, and an emptied one is the usual again", async () => {
  gives("/wording", TEXTS);
  const { user } = show(<Kept begins={{ leave: "Schluss" }} />);
  await user.click(
    await screen.findByRole("button", { name: "Footer of every email 1 of 2 changed" }),
  );
  expect(screen.queryByRole("textbox", { name: "freiwillig" })).toBeNull();
  await user.type(screen.getByRole("textbox", { name: "Wegen {{ list }}" }), "Post");
  expect(screen.getByTestId("kept").textContent).toBe('{"leave":"Schluss","why":"Post"}');
  await user.clear(screen.getByRole("textbox", { name: "Abmelden" }));
  expect(screen.getByTestId("kept").textContent).toBe('{"why":"Post"}');
  await user.click(screen.getByRole("button", { name: /^Beside the questions/ }));
  expect(screen.queryByRole("textbox", { name: "Abmelden" })).toBeNull();
  expect(screen.getByRole("textbox", { name: "freiwillig" })).toBeDefined();
});

test("what is filled in is said, and what is wrong stands at its text", async () => {
  gives("/wording", TEXTS);
  const { user } = show(
    <Kept begins={{ why: "{{ name }}" }} wrong="{{ name }} cannot be filled in here." />,
  );
  await user.click(await screen.findByRole("button", { name: /^Footer of every email/ }));
  const box = screen.getByRole("textbox", { name: "Wegen {{ list }}" });
  expect(box.getAttribute("aria-invalid")).toBe("true");
  expect(screen.getByText("{{ name }} cannot be filled in here.")).toBeDefined();
});

test("what is left in the words of another language is said", async () => {
  gives("/wording", TEXTS);
  const { user } = show(<Kept begins={{ leave: "Schluss" }} />);
  const said = () => screen.getByRole("status").textContent;
  await screen.findByRole("button", { name: /^Footer of every email/ });
  expect(said()).toBe("");
  await user.click(screen.getByRole("button", { name: "Another language" }));
  expect(said()).toContain("1 text is still in your own words as they were");
  await user.click(await screen.findByRole("button", { name: /^Footer of every email/ }));
  await user.clear(screen.getByRole("textbox", { name: "Abmelden" }));
  expect(said()).toBe("");
});
