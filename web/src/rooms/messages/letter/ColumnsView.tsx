import Box from "@mui/material/Box";
import MenuItem from "@mui/material/MenuItem";
import TextField from "@mui/material/TextField";
import type { ReactNode } from "react";
import { newId } from "../../../parts/newId";
import type { Block, ColumnsBlock, InColumn } from "./blocks";
import { BlockForm } from "./BlockForm";
import { useLetter } from "./LetterContext";

const SHARES: [string, string, number[]][] = [
  ["1 1", "Two, equal", [1, 1]],
  ["1 2", "Two, the second wider", [1, 2]],
  ["2 1", "Two, the first wider", [2, 1]],
  ["1 1 1", "Three, equal", [1, 1, 1]],
];

/** Columns beside each other, each with blocks of its own. */
export function ColumnsView(props: {
  block: ColumnsBlock;
  onChange: (block: Block) => void;
  /** The blocks of one column, each below the other. */
  children: (
    blocks: Block[],
    onChange: (change: (blocks: Block[]) => Block[]) => void,
  ) => ReactNode;
}) {
  const { block, onChange, children } = props;
  const { open } = useLetter();
  const shares = block.columns.map((one) => one.parts).join(" ");
  const divide = (parts: number[]) => {
    const columns = parts.map((part, at) => ({
      ...(block.columns[at] ?? { id: newId("c"), blocks: [] }),
      parts: part,
    }));
    // What stood in a column that is no more goes to the last one that stays.
    const gone = block.columns.slice(parts.length).flatMap((one) => one.blocks);
    const last = columns[columns.length - 1];
    if (last) last.blocks = [...last.blocks, ...gone];
    onChange({ ...block, columns });
  };
  return (
    <>
      {open === block.id && (
        <BlockForm>
          <TextField
            select
            label="Columns"
            value={SHARES.some(([key]) => key === shares) ? shares : "1 1"}
            onChange={(event) =>
              divide(SHARES.find(([key]) => key === event.target.value)?.[2] ?? [1, 1])
            }
            sx={{ maxWidth: 240 }}
          >
            {SHARES.map(([key, words]) => (
              <MenuItem key={key} value={key}>
                {words}
              </MenuItem>
            ))}
          </TextField>
        </BlockForm>
      )}
      <Box
        sx={{
          display: "grid",
          gridTemplateColumns: block.columns.map((one) => `minmax(0,${one.parts}fr)`).join(" "),
          gap: 2,
        }}
      >
        {block.columns.map((column, number) => (
          <Box
            key={column.id}
            role="group"
            aria-label={`Column ${number + 1}`}
            sx={{
              minWidth: 0,
              "&:hover, &:focus-within": { outline: "1px dashed #B9B09F", outlineOffset: 4 },
              "&:hover > .adds, &:focus-within > .adds": { opacity: 1 },
            }}
          >
            {children(column.blocks, (change) =>
              onChange({
                ...block,
                columns: block.columns.map((one) =>
                  one.id === column.id ? { ...one, blocks: change(one.blocks) as InColumn[] } : one,
                ),
              }),
            )}
          </Box>
        ))}
      </Box>
    </>
  );
}
