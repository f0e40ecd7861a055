import Box from "@mui/material/Box";
import Stack from "@mui/material/Stack";
import { AddMenu } from "../../../parts/AddMenu";
import { Sortable, SortableLine } from "../../../parts/Sortable";
import { BlockFrame } from "./BlockFrame";
import { BlockView } from "./BlockView";
import { copyOf, IN_COLUMNS, KINDS, nameOf, newBlock, type Block, type Kind } from "./blocks";
import { ColumnsView } from "./ColumnsView";
import { useLetter } from "./LetterContext";

interface LetterBlocksProps {
  blocks: Block[];
  onChange: (change: (blocks: Block[]) => Block[]) => void;
  /** Within a column. */
  inside?: boolean;
}

/** The blocks of a letter or of a column, one below the other. */
export function LetterBlocks({ blocks, onChange, inside }: LetterBlocksProps) {
  const { readOnly, setOpen } = useLetter();
  const replace = (next: Block) =>
    onChange((before) => before.map((one) => (one.id === next.id ? next : one)));
  const move = (from: number, to: number) =>
    onChange((before) => {
      const next = [...before];
      next.splice(to, 0, ...next.splice(from, 1));
      return next;
    });
  const add = (kind: Kind, at: number) => {
    const made = newBlock(kind);
    onChange((before) => [...before.slice(0, at), made, ...before.slice(at)]);
    setOpen(made.id);
  };
  const kinds = inside ? IN_COLUMNS : KINDS;
  return (
    <Sortable items={blocks} onOrder={(next) => onChange(() => next)}>
      {blocks.map((block, index) => (
        <SortableLine
          key={block.id}
          id={block.id}
          name={`${nameOf(block.kind)} ${index + 1}`}
          disabled={readOnly}
          handleAt={inside ? -22 : -38}
        >
          <BlockFrame
            block={block}
            number={index + 1}
            kinds={kinds}
            onChange={replace}
            onAdd={(kind) => add(kind, index + 1)}
            onUp={index > 0 ? () => move(index, index - 1) : undefined}
            onDown={index < blocks.length - 1 ? () => move(index, index + 1) : undefined}
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
            <AddMenu label="Add block" options={kinds} onAdd={(kind) => add(kind, blocks.length)} />
          </Box>
        </Stack>
      )}
    </Sortable>
  );
}
