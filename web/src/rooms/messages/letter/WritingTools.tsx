import Button from "@mui/material/Button";
import Menu from "@mui/material/Menu";
import MenuItem from "@mui/material/MenuItem";
import Stack from "@mui/material/Stack";
import TextField from "@mui/material/TextField";
import { useEditorState, type Editor } from "@tiptap/react";
import { useState } from "react";
import { useLetter } from "./LetterContext";

const OURS: [string, string][] = [
  ["file_link", "To the file"],
  ["own_page", "To their own page"],
  ["confirm_link", "To confirm"],
];

/** What a text can have: a field, strong, emphasis, a heading, a list, a link. */
export function WritingTools({ editor }: { editor: Editor }) {
  const { fields } = useLetter();
  const [anchor, setAnchor] = useState<HTMLElement | null>(null);
  const [link, setLink] = useState<string>();
  const state = useEditorState({
    editor,
    selector: ({ editor: now }) => ({
      strong: now.isActive("bold"),
      emphasis: now.isActive("italic"),
      list: now.isActive("bulletList"),
      link: now.isActive("link"),
      href: String(now.getAttributes("link")["href"] ?? ""),
      chip: now.isActive("fieldChip"),
      fallback: String(now.getAttributes("fieldChip")["fallback"] ?? ""),
    }),
  });
  const insert = (field: string) => {
    setAnchor(null);
    editor
      .chain()
      .focus()
      .insertContent({ type: "fieldChip", attrs: { field, fallback: "" } })
      .run();
    // The new chip is selected, so that its fallback can be written at once.
    editor.commands.setNodeSelection(editor.state.selection.from - 1);
  };
  const setHref = (href: string) => {
    const chain = editor.chain().focus().extendMarkRange("link");
    if (href.trim()) chain.setLink({ href: href.trim() }).run();
    else chain.unsetLink().run();
    setLink(undefined);
  };
  const tool = (word: string, active: boolean, act: () => void) => (
    <Button
      color="inherit"
      aria-pressed={active}
      variant={active ? "outlined" : "text"}
      onMouseDown={(event) => event.preventDefault()}
      onClick={act}
    >
      {word}
    </Button>
  );
  return (
    <>
      <Stack direction="row" spacing={0.5} useFlexGap sx={{ mb: 0.75, flexWrap: "wrap" }}>
        <Button
          variant="outlined"
          aria-haspopup="menu"
          onMouseDown={(event) => event.preventDefault()}
          onClick={(event) => setAnchor(event.currentTarget)}
        >
          Insert a field
        </Button>
        {tool("Strong", state.strong, () => editor.chain().focus().toggleBold().run())}
        {tool("Emphasis", state.emphasis, () => editor.chain().focus().toggleItalic().run())}
        {tool("List", state.list, () => editor.chain().focus().toggleBulletList().run())}
        {tool("Link", state.link, () => setLink(state.href))}
        <Menu open={Boolean(anchor)} anchorEl={anchor} onClose={() => setAnchor(null)}>
          {fields.map((one) => (
            <MenuItem key={one.key} onClick={() => insert(one.key)}>
              {one.label}
            </MenuItem>
          ))}
        </Menu>
      </Stack>
      {link !== undefined && (
        <Stack direction="row" spacing={1} useFlexGap sx={{ mb: 1, flexWrap: "wrap" }}>
          <TextField
            autoFocus
            label="Address of the link (empty: no link)"
            placeholder="https://"
            value={link}
            onChange={(event) => setLink(event.target.value)}
            onKeyDown={(event) => event.key === "Enter" && setHref(link)}
            sx={{ maxWidth: 320 }}
          />
          <Button variant="outlined" onClick={() => setHref(link)}>
            Set link
          </Button>
          {OURS.map(([token, word]) => (
            <Button key={token} onClick={() => setHref(`{{ ${token} }}`)}>
              {word}
            </Button>
          ))}
        </Stack>
      )}
      {state.chip && (
        <TextField
          label="Fallback"
          value={state.fallback}
          onChange={(event) =>
            editor.commands.updateAttributes("fieldChip", { fallback: event.target.value })
          }
          helperText={state.fallback ? "" : "Without it, nothing is sent to people who have none"}
          sx={{ mb: 1, maxWidth: 380 }}
        />
      )}
    </>
  );
}
