import {
  closestCenter,
  DndContext,
  KeyboardSensor,
  PointerSensor,
  useSensor,
  useSensors,
  type DragEndEvent,
  type UniqueIdentifier,
} from "@dnd-kit/core";
import {
  arrayMove,
  SortableContext,
  sortableKeyboardCoordinates,
  useSortable,
  verticalListSortingStrategy,
} from "@dnd-kit/sortable";
import { CSS } from "@dnd-kit/utilities";
import Box from "@mui/material/Box";
import { announced } from "./announced";
import { useMemo, type ReactNode } from "react";

interface SortableProps<Item extends { id: string }> {
  items: Item[];
  onOrder: (items: Item[]) => void;
  children: ReactNode;
}

/** Lines that can be dragged into another order, by pointer or by keys. */
export function Sortable<Item extends { id: string }>(props: SortableProps<Item>) {
  const { items, onOrder, children } = props;
  // The same as long as the order is: a key in one line renders no other.
  const order = items.map((one) => one.id).join("\n");
  const ids = useMemo(() => order.split("\n"), [order]);
  const sensors = useSensors(
    useSensor(PointerSensor, { activationConstraint: { distance: 4 } }),
    useSensor(KeyboardSensor, { coordinateGetter: sortableKeyboardCoordinates }),
  );
  const drop = ({ active, over }: DragEndEvent) => {
    const from = items.findIndex((one) => one.id === active.id);
    const to = items.findIndex((one) => one.id === over?.id);
    if (from >= 0 && to >= 0 && from !== to) onOrder(arrayMove(items, from, to));
  };
  const place = (id: UniqueIdentifier | undefined) =>
    `${items.findIndex((one) => one.id === id) + 1} of ${items.length}`;
  const announcements = announced(() => "the line", place);
  return (
    <DndContext
      sensors={sensors}
      collisionDetection={closestCenter}
      onDragEnd={drop}
      accessibility={{ announcements }}
    >
      <SortableContext items={ids} strategy={verticalListSortingStrategy}>
        {children}
      </SortableContext>
    </DndContext>
  );
}

/** One line of a Sortable; `disabled` where nothing may be moved. */
export function SortableLine(props: {
  id: string;
  name: string;
  disabled: boolean;
  /** Where its handle stands, in pixels from its left edge. */
  handleAt?: number;
  children: ReactNode;
}) {
  const { id, name, disabled, handleAt = -12, children } = props;
  const { setNodeRef, attributes, listeners, transform, transition, isDragging } = useSortable({
    id,
    disabled,
  });
  return (
    <Box
      ref={setNodeRef}
      style={{ transform: CSS.Translate.toString(transform), transition: transition }}
      sx={{
        position: "relative",
        // Shown where it is about to be used; always there for fingers.
        "@media (hover: hover)": {
          "& > .handle": { opacity: 0 },
          "&:hover > .handle, &:focus-within > .handle": { opacity: 1 },
        },
        ...(isDragging && { zIndex: 2, outline: 2, outlineColor: "primary.main" }),
      }}
    >
      {!disabled && (
        <Box
          component="button"
          type="button"
          className="handle"
          {...attributes}
          {...listeners}
          aria-label={`Drag ${name}`}
          sx={{
            position: "absolute",
            left: handleAt,
            top: 3,
            width: 24,
            height: 28,
            p: 0,
            border: 0,
            bgcolor: "transparent",
            color: "text.secondary",
            cursor: "grab",
            touchAction: "none",
            font: "inherit",
            lineHeight: 1,
            zIndex: 1,
          }}
        >
          ⋮
        </Box>
      )}
      {children}
    </Box>
  );
}
