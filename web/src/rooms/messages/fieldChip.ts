import { mergeAttributes, Node } from "@tiptap/core";

/** A field of the person, in the text of a message: one piece, with a fallback. */
export function fieldChip(labelOf: (key: string) => string) {
  return Node.create({
    name: "fieldChip",
    group: "inline",
    inline: true,
    atom: true,
    selectable: true,
    addAttributes: () => ({
      field: {
        default: "",
        parseHTML: (element) => element.getAttribute("data-field"),
        renderHTML: (attributes) => ({ "data-field": String(attributes["field"]) }),
      },
      fallback: {
        default: "",
        parseHTML: (element) => element.getAttribute("data-fallback"),
        renderHTML: (attributes) => ({ "data-fallback": String(attributes["fallback"]) }),
      },
    }),
    parseHTML: () => [{ tag: "span[data-field]" }],
    renderHTML: ({ node, HTMLAttributes }) => [
      "span",
      mergeAttributes(HTMLAttributes, { class: "field-chip" }),
      labelOf(String(node.attrs["field"])) +
        (node.attrs["fallback"] ? `, or “${String(node.attrs["fallback"])}”` : ""),
    ],
  });
}
