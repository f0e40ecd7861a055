import Table from "@mui/material/Table";
import TableBody from "@mui/material/TableBody";
import TableCell from "@mui/material/TableCell";
import TableHead from "@mui/material/TableHead";
import TableRow from "@mui/material/TableRow";
import { screen } from "@testing-library/react";
import { expect, test } from "vitest";
import { show } from "../testing/show";
import { SortCell, useSorting } from "./sorting";

const ROWS = [
  { name: "Guide 10", total: 3, at: "2026-05-01" },
  { name: "guide 9", total: 30, at: null },
  { name: "Äpfel", total: 4, at: "2026-04-01" },
];

function Sorted() {
  const sorting = useSorting(
    ROWS,
    { name: (one) => one.name, total: (one) => one.total, at: (one) => one.at },
    "name",
  );
  return (
    <Table>
      <TableHead>
        <TableRow>
          <SortCell by="name" sorting={sorting}>
            Name
          </SortCell>
          <SortCell by="total" sorting={sorting} align="right">
            Total
          </SortCell>
          <SortCell by="at" sorting={sorting}>
            Latest
          </SortCell>
        </TableRow>
      </TableHead>
      <TableBody>
        {sorting.rows.map((one) => (
          <TableRow key={one.name}>
            <TableCell>{one.name}</TableCell>
          </TableRow>
        ))}
      </TableBody>
    </Table>
  );
}

const names = () => screen.getAllByRole("cell").map((one) => one.textContent);

test("a table in the order of a column, both ways, empty ones last", async () => {
  const { user, router } = show(<Sorted />);
  expect(names()).toEqual(["Äpfel", "guide 9", "Guide 10"]);
  await user.click(screen.getByRole("button", { name: "Total" }));
  expect(names()).toEqual(["Guide 10", "Äpfel", "guide 9"]);
  await user.click(screen.getByRole("button", { name: "Total" }));
  expect(names()).toEqual(["guide 9", "Äpfel", "Guide 10"]);
  expect(screen.getByRole("columnheader", { name: "Total" }).getAttribute("aria-sort")).toBe(
    "descending",
  );
  expect(router.state.location.search).toBe("?sort=-total");
  await user.click(screen.getByRole("button", { name: "Latest" }));
  expect(names()).toEqual(["Äpfel", "Guide 10", "guide 9"]);
  await user.click(screen.getByRole("button", { name: "Latest" }));
  expect(names()).toEqual(["Guide 10", "Äpfel", "guide 9"]);
});

test("a column that does not exist is the usual order", () => {
  show(<Sorted />, "/w/moor/here?sort=nonsense");
  expect(names()).toEqual(["Äpfel", "guide 9", "Guide 10"]);
});
