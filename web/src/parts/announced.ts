import type { Announcements, UniqueIdentifier } from "@dnd-kit/core";

/** What is said while something is dragged, for those who do not see it. `what`: the thing, and `where`: a
 * place, in words; an id says nothing to anybody. */
export function announced(
  what: (id: UniqueIdentifier) => string,
  where: (id: UniqueIdentifier) => string,
): Announcements {
  return {
    onDragStart: ({ active }) => `Picked up ${what(active.id)}, at ${where(active.id)}.`,
    onDragOver: ({ over }) => (over ? `It would go to ${where(over.id)}.` : "It would go back."),
    onDragEnd: ({ over }) =>
      over ? `It is at ${where(over.id)} now.` : "It is back where it was.",
    onDragCancel: () => "It is back where it was.",
  };
}
