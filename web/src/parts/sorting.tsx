import TableCell from "@mui/material/TableCell";
import TableSortLabel from "@mui/material/TableSortLabel";
import { parseAsString, useQueryState } from "nuqs";
import type { ReactNode } from "react";

type Value = string | number | null | undefined;

/** A table's order: by which column, and whether from the greatest down; it stands in the address. */
export interface Sorting<Row, Column extends string> {
  rows: Row[];
  column: Column;
  down: boolean;
  onSort: (column: Column) => void;
}

/**
 * Rows in the order that the member chose. `columns`: what each is sorted by; `usual`: the order
 * without a choice, with a minus from the greatest down. What is empty comes last.
 */
export function useSorting<Row, Column extends string>(
  rows: Row[],
  columns: Record<Column, (row: Row) => Value>,
  usual: NoInfer<Column | `-${Column}`>,
): Sorting<Row, Column> {
  const [asked, setAsked] = useQueryState("sort", parseAsString.withDefault(usual));
  const known = asked.replace(/^-/, "") in columns ? asked : usual;
  const down = known.startsWith("-");
  const column = known.replace(/^-/, "") as Column;
  const value = columns[column];
  const sorted = [...rows].sort((one, other) => compare(value(one), value(other), down));
  const onSort = (chosen: Column) => {
    const next = chosen === column && !down ? `-${chosen}` : chosen;
    void setAsked(next === usual ? null : next);
  };
  return { rows: sorted, column, down, onSort };
}

function compare(one: Value, other: Value, down: boolean): number {
  const isEmpty = (value: Value) => value === null || value === undefined || value === "";
  if (isEmpty(one) || isEmpty(other)) return Number(isEmpty(one)) - Number(isEmpty(other));
  const order =
    typeof one === "number" && typeof other === "number"
      ? one - other
      : String(one).localeCompare(String(other), "en", { numeric: true });
  return down ? -order : order;
}

interface SortCellProps<Row, Column extends string> {
  by: Column;
  sorting: Sorting<Row, Column>;
  align?: "right";
  children: ReactNode;
}

/** The head of a column by which a table can be sorted. */
export function SortCell<Row, Column extends string>(props: SortCellProps<Row, Column>) {
  const { by, sorting, align, children } = props;
  const isSorted = sorting.column === by;
  const direction = sorting.down ? "desc" : "asc";
  return (
    <TableCell align={align} sortDirection={isSorted ? direction : false}>
      <TableSortLabel
        active={isSorted}
        direction={isSorted ? direction : "asc"}
        onClick={() => sorting.onSort(by)}
      >
        {children}
      </TableSortLabel>
    </TableCell>
  );
}
