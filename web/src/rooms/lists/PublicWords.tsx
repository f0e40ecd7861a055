import Button from "@mui/material/Button";
import Stack from "@mui/material/Stack";
import TextField from "@mui/material/TextField";
import Typography from "@mui/material/Typography";
import { useState } from "react";
import { api, ApiError, take, type Schemas } from "../../api/client";
import { useAttempt } from "../../api/useAttempt";
import { useReload, useSlug } from "../../api/workspace";
import { LanguageSelect } from "../../parts/LanguageSelect";
import { OwnWords } from "../../parts/OwnWords";
import { Problem } from "../../parts/Problem";

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
  const [here, setHere] = useState(list.name);
  const [sure, setSure] = useState(false);
  const [name, setName] = useState(list.public_name);
  const [about, setAbout] = useState(list.description);
  const [pages, setPages] = useState<Pages>(list.pages);
  const [language, setLanguage] = useState(list.language);
  const [words, setWords] = useState(list.words);
  const [status, setStatus] = useState("");
  const { attempt, failed } = useAttempt();
  const params = { path: { workspace, list: list.id } };
  const wrong = (place: string) => (failed instanceof ApiError ? failed.at(place) : undefined);
  const setPage = (page: Name, change: Partial<Pages[Name]>) => {
    setPages({ ...pages, [page]: { ...pages[page], ...change } });
    setStatus("");
  };
  const save = async () => {
    await attempt(async () => {
      if (here.trim() !== list.name) {
        await take(
          api.PUT("/api/workspaces/{workspace}/lists/{list}/name", {
            params,
            body: { name: here },
          }),
        );
      }
      await take(
        api.PUT("/api/workspaces/{workspace}/lists/{list}/public", {
          params,
          body: { public_name: name, description: about, pages, language, words },
        }),
      );
      setStatus("Saved");
      await reload("catalogue", "people", "person");
    });
  };
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
          value={here}
          error={Boolean(wrong("name"))}
          helperText={wrong("name")}
          onChange={(event) => setHere(event.target.value)}
          sx={{ width: 200 }}
        />
        <TextField
          label="Name that the public reads"
          placeholder={here}
          slotProps={USUAL}
          value={name}
          onChange={(event) => setName(event.target.value)}
          sx={{ width: 220 }}
        />
        <TextField
          label="What it is about"
          value={about}
          onChange={(event) => setAbout(event.target.value)}
          helperText="Shown where people choose, confirm and unsubscribe"
          sx={{ flex: 1, minWidth: 280 }}
        />
      </Stack>
      <LanguageSelect
        label="Language of its pages and emails"
        inherits="As the workspace"
        value={language}
        onChange={setLanguage}
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
              value={pages[page].heading}
              onChange={(event) => setPage(page, { heading: event.target.value })}
              sx={{ width: 260 }}
            />
            <TextField
              label="Text"
              slotProps={{ htmlInput: { "aria-label": `Text of the ${label.toLowerCase()}` } }}
              value={pages[page].text}
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
              value={pages[page].address}
              error={Boolean(wrong(`pages.${page}.address`))}
              helperText={wrong(`pages.${page}.address`)}
              onChange={(event) => setPage(page, { address: event.target.value })}
            />
          )}
        </Stack>
      ))}
      <OwnWords
        about="list"
        language={language}
        words={words}
        wrong={(key) => wrong(`words.${key}`)}
        onChange={(changed) => {
          setWords(changed);
          setStatus("");
        }}
      />
      <Stack direction="row" spacing={2} sx={{ alignItems: "center" }}>
        <Button variant="outlined" onClick={() => void save()}>
          Save
        </Button>
        {sure ? (
          <Button color="error" onClick={() => void remove()}>
            Remove the list for good
          </Button>
        ) : (
          <Button color="error" onClick={() => setSure(true)}>
            Remove
          </Button>
        )}
        <Typography variant="body2" role="status">
          {status}
        </Typography>
        <Problem error={failed} />
      </Stack>
    </Stack>
  );
}
