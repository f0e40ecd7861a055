import { Extension } from "@tiptap/core";

/** The direction that a paragraph of another script was written with. */
export const direction = Extension.create({
  name: "direction",
  addGlobalAttributes: () => [
    {
      types: ["paragraph", "heading", "listItem"],
      attributes: {
        dir: {
          default: null,
          parseHTML: (element) => (/^(rtl|ltr)$/.test(element.dir) ? element.dir : null),
          renderHTML: ({ dir }) => (dir ? { dir: String(dir) } : {}),
        },
      },
    },
  ],
});
