import Box from "@mui/material/Box";
import { EditorContent, useEditor } from "@tiptap/react";
import StarterKit from "@tiptap/starter-kit";
import { DOMParser as NodesOf } from "@tiptap/pm/model";
import { useEffect, useMemo, useRef } from "react";
import { nonce } from "../../../nonce";
import { fieldChip } from "../fieldChip";
import { withChips, withTokens } from "../liquid";
import { direction } from "./direction";
import { useLetter } from "./LetterContext";
import { cleanPasted, pastedText } from "./pasted";
import { WritingTools } from "./WritingTools";

interface WritingBoxProps {
  label: string;
  html: string;
  /** Whether its tools are shown. */
  tools: boolean;
  onChange: (html: string) => void;
  onFocus?: () => void;
}

/** A text that is written where it stands in the letter, with chips for what is personal. It shows what
 * the draft holds: the way back and forth is the draft's own, and there is no other. */
export function WritingBox({ label, html, tools, onChange, onFocus }: WritingBoxProps) {
  const { fields, style, readOnly } = useLetter();
  const extensions = useMemo(
    () => [
      StarterKit.configure({
        undoRedo: false,
        link: { openOnClick: false, HTMLAttributes: { target: null, rel: null } },
      }),
      direction,
      fieldChip((key) => fields.find((one) => one.key === key)?.label ?? `${key} (no such field)`),
    ],
    [fields],
  );
  // What the editor shows, as the draft has it.
  const shown = useRef(html);
  const editor = useEditor({
    extensions,
    content: withChips(html),
    editable: !readOnly,
    injectNonce: nonce,
    onUpdate: ({ editor: changed }) => {
      shown.current = withTokens(changed.getHTML());
      onChange(shown.current);
    },
    onFocus: () => onFocus?.(),
    editorProps: {
      attributes: { "aria-label": label, role: "textbox", "aria-multiline": "true" },
      transformPastedHTML: cleanPasted,
      clipboardTextParser: (text, _context, _plain, view) => {
        const box = document.createElement("div");
        box.innerHTML = pastedText(text);
        return NodesOf.fromSchema(view.state.schema).parseSlice(box);
      },
    },
  });
  useEffect(() => {
    if (html === shown.current) return;
    shown.current = html;
    const { from, to } = editor.state.selection;
    editor.commands.setContent(withChips(html), { emitUpdate: false });
    const end = editor.state.doc.content.size;
    editor.commands.setTextSelection({ from: Math.min(from, end), to: Math.min(to, end) });
  }, [editor, html]);
  return (
    <Box sx={{ position: "relative" }}>
      {tools && !readOnly && (
        // Above the text, so that it stays where it is when it opens.
        <Box
          sx={{
            position: "absolute",
            bottom: "100%",
            left: -13,
            mb: 0.5,
            zIndex: 3,
            width: "max-content",
            maxWidth: 460,
            px: 1,
            pt: 0.5,
            bgcolor: "background.paper",
            color: "text.primary",
            border: 1,
            borderColor: "divider",
            colorScheme: "normal",
          }}
        >
          <WritingTools editor={editor} />
        </Box>
      )}
      <Box
        sx={{
          "& .ProseMirror": { outline: "none", minHeight: 24 },
          "& .ProseMirror-focused": { outline: "none" },
          "& p": { mt: 0, mb: 2 },
          "& p:last-child": { mb: 0 },
          "& a": { color: style.light.accent },
          "& h1, & h2, & h3": { lineHeight: 1.25, mt: 1, mb: 1.5 },
          "& blockquote": { borderLeft: 3, borderColor: style.light.rule, m: 0, pl: 1.75 },
          "& .field-chip": {
            bgcolor: "#EEF3F1",
            color: "#1D5B4F",
            borderBottom: "2px solid #1D5B4F",
            px: 0.5,
            whiteSpace: "nowrap",
          },
          "& .ProseMirror-selectednode": { outline: "2px solid #1D5B4F" },
          "& .is-empty:first-of-type::before": { content: '"Write here"', color: "#566165" },
        }}
      >
        <EditorContent editor={editor} />
      </Box>
    </Box>
  );
}
