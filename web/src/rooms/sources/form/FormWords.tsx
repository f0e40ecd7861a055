import Button from "@mui/material/Button";
import Stack from "@mui/material/Stack";
import TextField from "@mui/material/TextField";
import Typography from "@mui/material/Typography";
import { useState } from "react";
import type { Schemas } from "../../../api/client";
import { LanguageSelect } from "../../../parts/LanguageSelect";
import { OwnWords } from "../../../parts/OwnWords";
import { useOpens } from "../../../parts/focus/useOpens";
import type { Edit } from "../routeDocument";

interface FormWordsProps {
  form: Schemas["Form"];
  findings: Schemas["Finding"][];
  edit: Edit;
  readOnly: boolean;
}

/** The words around the questions: heading, text, button, and the language of them all. */
export function FormWords({ form, findings, edit, readOnly }: FormWordsProps) {
  const [open, setOpen] = useState(false);
  const set = (change: Partial<Schemas["Form"]>) =>
    edit((route) => ({ ...route, form: { ...route.form, ...change } }));
  const root = useOpens<HTMLDivElement>(open);
  if (!open) {
    return (
      <Stack ref={root} direction="row" spacing={1} sx={{ alignItems: "baseline" }}>
        <Typography sx={{ minWidth: 0 }}>
          <strong>{form.title || "No heading"}</strong>
          {form.intro && ` · ${form.intro}`} · button “{form.button}”
        </Typography>
        {!readOnly && (
          <Button
            data-opens
            sx={{ ml: "auto !important", flexShrink: 0, whiteSpace: "nowrap" }}
            onClick={() => setOpen(true)}
          >
            Edit words
          </Button>
        )}
      </Stack>
    );
  }
  return (
    <Stack spacing={1.5} sx={{ py: 1 }}>
      <TextField
        label="Heading"
        value={form.title}
        autoFocus
        onChange={(event) => set({ title: event.target.value })}
      />
      <TextField
        label="Text below it"
        multiline
        value={form.intro}
        onChange={(event) => set({ intro: event.target.value })}
      />
      <TextField
        label="Words on the button"
        value={form.button}
        onChange={(event) => set({ button: event.target.value })}
      />
      <LanguageSelect
        label="Language of the form"
        inherits="As the workspace"
        value={form.language}
        onChange={(language) => set({ language })}
      />
      <OwnWords
        about="form"
        language={form.language}
        words={form.words}
        wrong={(key) => findings.find((one) => one.place === `form.words.${key}`)?.sentence}
        onChange={(words) => set({ words })}
      />
      <div>
        <Button variant="outlined" onClick={() => setOpen(false)}>
          Done
        </Button>
      </div>
    </Stack>
  );
}
