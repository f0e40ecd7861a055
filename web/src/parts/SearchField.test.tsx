import { screen, waitFor } from "@testing-library/react";
import { useState } from "react";
import { expect, test, vi } from "vitest";
import { show } from "../testing/show";
import { SearchField } from "./SearchField";

test("each key shows at once, and one search follows when the typing rests", async () => {
  const onSearch = vi.fn();
  const { user } = show(<SearchField label="Address or name" value="" onSearch={onSearch} />);
  const box = screen.getByRole<HTMLInputElement>("searchbox", { name: "Address or name" });
  await user.type(box, "ines");
  expect(box.value).toBe("ines");
  expect(onSearch).not.toHaveBeenCalled();
  await waitFor(() => expect(onSearch).toHaveBeenCalledExactlyOnceWith("ines"));
});

test("a search from outside stands in the box", async () => {
  function Outside() {
    const [value, setValue] = useState("first");
    return (
      <>
        <SearchField inHead label="Find" value={value} onSearch={setValue} />
        <button onClick={() => setValue("")}>Clear</button>
      </>
    );
  }
  const { user } = show(<Outside />);
  const box = screen.getByRole<HTMLInputElement>("searchbox", { name: "Find" });
  expect(box.value).toBe("first");
  await user.click(screen.getByRole("button", { name: "Clear" }));
  expect(box.value).toBe("");
});
