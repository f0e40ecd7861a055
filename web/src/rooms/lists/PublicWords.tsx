import Button from "@mui/material/Button";
import Stack from "@mui/material/Stack";
import TextField from "@mui/material/TextField";
import Typography from "@mui/material/Typography";
import { useState } from "react";
import { api, take, type Schemas } from "../../api/client";
import { useAttempt } from "../../api/useAttempt";
import { useReload, useSlug } from "../../api/workspace";
import { FormActions } from "../../drafts/FormActions";
import { LanguageSelect } from "../../parts/LanguageSelect";
import { OwnWords } from "../../parts/OwnWords";
import { Problem } from "../../parts/Problem";
import { useListForm } from "./useListForm";

type Pages = Schemas["ListPages"];
type Name = keyof Pages;

const PAGES: [Name, string, string, boolean][] = [
  ["asks", "Page that asks to confirm", "The list’s name", false],
  ["confirmed", "Page after confirming", "You are subscribed", true],
  ["left", "Page after unsubscribing", "You are unsubscribed", true],
];

/** The usual words can be read while nothing else is written. */
const USUAL = { inputLabel: { shrink: true } };

/** A list's name here, what the public reads of it, and its pages; or the list removed. */
export function PublicWords({ list }: { list: Schemas["ListOut"] }) {
  const workspace = useSlug();
  const reload = useReload();
  const draft = useListForm(list);
  const { form, set, wrong, edit } = draft;
  const [sure, setSure] = useState(false);
  const { attempt, failed } = useAttempt();
  const params = { path: { workspace, list: list.id } };
  const setPage = (page: Name, change: Partial<Pages[Name]>) =>
    edit((before) => ({
      ...before,
      pages: { ...before.pages, [page]: { ...before.pages[page], ...change } },
    }));
  const remove = async () => {
    const done = await attempt(async () => {
      await take(api.DELETE("/api/workspaces/{workspace}/lists/{list}", { params }));
      await reload("catalogue");
    });
    if (!done) setSure(false);
  };
  return (
    <Stack spacing={1.5} sx={{ py: 1, maxWidth: 720 }}>
      <Stack direction="row" spacing={1.5} useFlexGap sx={{ flexWrap: "wrap" }}>
        <TextField
          label="Name here"
          value={form.name}
          error={Boolean(wrong("name"))}
          helperText={wrong("name")}
          onChange={(event) => set({ name: event.target.value })}
          sx={{ width: 200 }}
        />
        <TextField
          label="Name that the public reads"
          placeholder={form.name}
          slotProps={USUAL}
          value={form.public_name}
          onChange={(event) => set({ public_name: event.target.value })}
          sx={{ width: 220 }}
        />
        <TextField
          label="What it is about"
          value={form.description}
          onChange={(event) => set({ description: event.target.value })}
          helperText="Shown where people choose, confirm and unsubscribe"
          sx={{ flex: 1, minWidth: 280 }}
        />
      </Stack>
      <LanguageSelect
        label="Language of its pages and emails"
        inherits="As the workspace"
        value={form.language}
        onChange={(language) => set({ language })}
      />
      {PAGES.map(([page, label, usual, elsewhere]) => (
        <Stack key={page} spacing={1}>
          <Typography variant="body2">{label}</Typography>
          <Stack direction="row" spacing={1.5} useFlexGap sx={{ flexWrap: "wrap" }}>
            <TextField
              label="Heading"
              slotProps={{
                ...USUAL,
                htmlInput: { "aria-label": `Heading of the ${label.toLowerCase()}` },
              }}
              placeholder={usual}
              value={form.pages[page].heading}
              onChange={(event) => setPage(page, { heading: event.target.value })}
              sx={{ width: 260 }}
            />
            <TextField
              label="Text"
              slotProps={{ htmlInput: { "aria-label": `Text of the ${label.toLowerCase()}` } }}
              value={form.pages[page].text}
              multiline
              onChange={(event) => setPage(page, { text: event.target.value })}
              sx={{ flex: 1, minWidth: 280 }}
            />
          </Stack>
          {elsewhere && (
            <TextField
              label="Or another page instead"
              slotProps={{
                ...USUAL,
                htmlInput: { "aria-label": `Page instead of the ${label.toLowerCase()}` },
              }}
              placeholder="https://"
              value={form.pages[page].address}
              error={Boolean(wrong(`pages.${page}.address`))}
              helperText={wrong(`pages.${page}.address`)}
              onChange={(event) => setPage(page, { address: event.target.value })}
            />
          )}
        </Stack>
      ))}
      <OwnWords
        about="list"
        language={form.language}
        words={form.words}
        wrong={(key) => wrong(`words.${key}`)}
        onChange={(words) => set({ words })}
      />
      <Problem error={failed} />
      <FormActions draft={draft}>
        {sure ? (
          <Button color="error" onClick={() => void remove()}>
            Remove the list for good
          </Button>
        ) : (
          <Button color="error" onClick={() => setSure(true)}>
            Remove
          </Button>
        )}
      </FormActions>
    </Stack>
  );
}
