/** What a key asks for: Ctrl+Z goes back, Ctrl+Shift+Z or Ctrl+Y forth (with ⌘ for Ctrl). */
export function undoKey(
  event: Pick<KeyboardEvent, "ctrlKey" | "metaKey" | "altKey" | "shiftKey" | "key">,
): "undo" | "redo" | undefined {
  if (!(event.ctrlKey || event.metaKey) || event.altKey) return undefined;
  const key = event.key.toLowerCase();
  if (key === "y" || (key === "z" && event.shiftKey)) return "redo";
  return key === "z" ? "undo" : undefined;
}
