import Box from "@mui/material/Box";
import { EditorContent, useEditor } from "@tiptap/react";
import StarterKit from "@tiptap/starter-kit";
import { useMemo } from "react";
import type { Schemas } from "../../api/client";
import { nonce } from "../../nonce";
import { BodyTools } from "./BodyTools";
import { fieldChip } from "./fieldChip";
import { withChips, withTokens } from "./liquid";

interface BodyEditorProps {
  body: string;
  fields: Schemas["FieldOut"][];
  onChange: (body: string) => void;
  readOnly: boolean;
}

/** The text of a message, with chips for what is personal. */
export function BodyEditor({ body, fields, onChange, readOnly }: BodyEditorProps) {
  const extensions = useMemo(
    () => [
      StarterKit.configure({
        link: { openOnClick: false, HTMLAttributes: { target: null, rel: null } },
      }),
      fieldChip((key) => fields.find((one) => one.key === key)?.label ?? `${key} (no such field)`),
    ],
    [fields],
  );
  const editor = useEditor({
    extensions,
    content: withChips(body),
    editable: !readOnly,
    injectNonce: nonce,
    onUpdate: ({ editor: changed }) => onChange(withTokens(changed.getHTML())),
    editorProps: { attributes: { "aria-label": "Text of the message", role: "textbox" } },
  });
  return (
    <>
      {!readOnly && <BodyTools editor={editor} fields={fields} />}
      <Box
        sx={{
          border: 1,
          borderColor: "divider",
          borderRadius: 1,
          bgcolor: "background.paper",
          px: 2,
          py: 1,
          minHeight: 260,
          "& .ProseMirror": { outline: "none", minHeight: 240 },
          "& .ProseMirror-focused": { outline: "none" },
          "&:focus-within": { borderColor: "primary.main" },
          "& p": { my: 1 },
          "& .field-chip": {
            bgcolor: "action.hover",
            borderBottom: 2,
            borderColor: "primary.main",
            px: 0.5,
            whiteSpace: "nowrap",
          },
          "& .ProseMirror-selectednode": { outline: "2px solid", outlineColor: "primary.main" },
        }}
      >
        <EditorContent editor={editor} />
      </Box>
    </>
  );
}
