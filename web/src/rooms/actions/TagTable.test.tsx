import { screen, waitFor } from "@testing-library/react";
import { useState } from "react";
import { expect, test } from "vitest";
import { gives, ok, takes } from "../../testing/server";
import { show } from "../../testing/show";
import { emptyQuestion } from "../sources/routeDocument";
import { TagTable } from "./TagTable";

const LOOKS = {
  ...emptyQuestion("choice", true),
  name: "looks",
  label: "Looks at",
  choices: ["Moon", "Stars", "Planets"].map((label) => ({
    key: label.toLowerCase(),
    label,
    synonyms: [],
  })),
};

const CLUB = { id: "club", name: "club", people: 3 };

function Edited() {
  const [action, setAction] = useState<Parameters<typeof TagTable>[0]["action"]>({
    kind: "tag_by_answer",
    question: "looks",
    table: [],
  });
  return (
    <>
      <TagTable
        action={action}
        questions={[LOOKS]}
        tags={[CLUB]}
        readOnly={false}
        onChange={setAction}
      />
      <p data-testid="kept">{JSON.stringify(action.table)}</p>
    </>
  );
}

/** The server takes its time to make tags, until it is let. */
function slowTags() {
  let letGo: () => void = () => undefined;
  const waits = new Promise<void>((resolve) => (letGo = resolve));
  gives("/catalogue", {});
  const made = takes("post", "/tags", async (body: { name: string }) => {
    await waits;
    return ok({ id: `the tag ${body.name}`, name: body.name });
  });
  return { made, letGo };
}

const kept = () =>
  JSON.parse(screen.getByTestId("kept").textContent) as { choice: string; tags: string[] }[];

test("what is chosen for another answer while a tag is being made stays", async () => {
  const { made, letGo } = slowTags();
  const { user } = show(<Edited />);
  await user.type(await screen.findByRole("combobox", { name: "Tags for Moon" }), "looks at moon");
  await user.click(screen.getByRole("option", { name: "Create the tag “looks at moon”" }));
  await user.click(screen.getByRole("combobox", { name: "Tags for Stars" }));
  await user.click(screen.getByRole("option", { name: /^club/ }));
  await waitFor(() => expect(made).toEqual([{ name: "looks at moon" }]));
  letGo();
  await waitFor(() =>
    expect(kept()).toEqual([
      { choice: "stars", tags: ["club"] },
      { choice: "moon", tags: ["the tag looks at moon"] },
    ]),
  );
});

test("tags named after all choices leave the one that was chosen meanwhile", async () => {
  const { made, letGo } = slowTags();
  const { user } = show(<Edited />);
  await user.click(await screen.findByRole("button", { name: /^Name a tag after each choice/ }));
  await user.click(screen.getByRole("combobox", { name: "Tags for Stars" }));
  await user.click(screen.getByRole("option", { name: /^club/ }));
  letGo();
  await waitFor(() =>
    expect(kept()).toEqual([
      { choice: "stars", tags: ["club"] },
      { choice: "moon", tags: ["the tag moon"] },
      { choice: "planets", tags: ["the tag planets"] },
    ]),
  );
  expect(made).toHaveLength(3);
});
