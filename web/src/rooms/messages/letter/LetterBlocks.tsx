import Box from "@mui/material/Box";
import Stack from "@mui/material/Stack";
import { memo } from "react";
import { AddMenu } from "../../../parts/AddMenu";
import { Sortable, SortableLine } from "../../../parts/Sortable";
import { BlockFrame } from "./BlockFrame";
import { BlockView } from "./BlockView";
import { copyOf, IN_COLUMNS, KINDS, nameOf, newBlock, type Block, type Kind } from "./blocks";
import { ColumnsView } from "./ColumnsView";
import { useLetter } from "./LetterContext";

type Change = (change: (blocks: Block[]) => Block[]) => void;

interface LetterBlocksProps {
  blocks: Block[];
  onChange: Change;
  /** Within a column. */
  inside?: boolean;
}

/** The blocks of a letter or of a column, one below the other. */
export function LetterBlocks({ blocks, onChange, inside = false }: LetterBlocksProps) {
  const { readOnly, setOpen } = useLetter();
  return (
    <Sortable items={blocks} onOrder={(next) => onChange(() => next)}>
      {blocks.map((block, index) => (
        <BlockRow
          key={block.id}
          block={block}
          index={index}
          count={blocks.length}
          inside={inside}
          readOnly={readOnly}
          onChange={onChange}
          setOpen={setOpen}
        />
      ))}
      {!readOnly && (
        <Stack
          direction="row"
          className="adds"
          sx={{
            mt: blocks.length ? 0.5 : 0,
            // In a column it is shown where it is about to be used.
            ...(inside && blocks.length && { "@media (hover: hover)": { opacity: 0 } }),
          }}
        >
          <Box sx={{ "& .MuiButton-root": { color: "#1D5B4F" } }}>
            <AddMenu
              label="Add block"
              options={inside ? IN_COLUMNS : KINDS}
              onAdd={(kind) => added(kind, blocks.length, onChange, setOpen)}
            />
          </Box>
        </Stack>
      )}
    </Sortable>
  );
}

function added(kind: Kind, at: number, onChange: Change, setOpen: (id: string) => void): void {
  const made = newBlock(kind);
  onChange((before) => [...before.slice(0, at), made, ...before.slice(at)]);
  setOpen(made.id);
}

interface BlockRowProps {
  block: Block;
  index: number;
  count: number;
  inside: boolean;
  readOnly: boolean;
  onChange: Change;
  setOpen: (id: string | undefined) => void;
}

/** A block in its place. It renders when something of its own has changed. */
const BlockRow = memo(function BlockRow(props: BlockRowProps) {
  const { block, index, count, inside, readOnly, onChange, setOpen } = props;
  const replace = (next: Block) =>
    onChange((before) => before.map((one) => (one.id === next.id ? next : one)));
  const move = (to: number) =>
    onChange((before) => {
      const next = [...before];
      next.splice(to, 0, ...next.splice(index, 1));
      return next;
    });
  return (
    <SortableLine
      id={block.id}
      name={`${nameOf(block.kind)} ${index + 1}`}
      disabled={readOnly}
      handleAt={inside ? -22 : -38}
    >
      <BlockFrame
        block={block}
        number={index + 1}
        kinds={inside ? IN_COLUMNS : KINDS}
        onChange={replace}
        onAdd={(kind) => added(kind, index + 1, onChange, setOpen)}
        onUp={index > 0 ? () => move(index - 1) : undefined}
        onDown={index < count - 1 ? () => move(index + 1) : undefined}
        onDuplicate={() =>
          onChange((before) => [
            ...before.slice(0, index + 1),
            copyOf(block),
            ...before.slice(index + 1),
          ])
        }
        onRemove={() => onChange((before) => before.filter((one) => one.id !== block.id))}
      >
        {block.kind === "columns" ? (
          <ColumnsView block={block} onChange={replace}>
            {(inColumn, change) => <LetterBlocks inside blocks={inColumn} onChange={change} />}
          </ColumnsView>
        ) : (
          <BlockView block={block} onChange={replace} />
        )}
      </BlockFrame>
    </SortableLine>
  );
});
