import { counted } from "./formats";
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Stack from "@mui/material/Stack";
import TextField from "@mui/material/TextField";
import Typography from "@mui/material/Typography";
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import type { Schemas } from "../api/client";
import { wordingQuery, type WordingOf } from "../api/wording";
import { useSlug } from "../api/workspace";
import { Problem } from "./Problem";

interface OwnWordsProps {
  about: WordingOf;
  /** Of the texts; empty: that of the workspace. */
  language: string;
  /** Own words, by the key of the text. */
  words: Record<string, string>;
  readOnly?: boolean;
  /** What is wrong with the own words of a text. */
  wrong?: (key: string) => string | undefined;
  onChange: (words: Record<string, string>) => void;
}

/** The fixed texts around a form or a list, each of which can be worded otherwise. */
export function OwnWords(props: OwnWordsProps) {
  const { about, language, words, readOnly = false, wrong, onChange } = props;
  const { data, error } = useQuery(wordingQuery(useSlug(), about, language));
  const [open, setOpen] = useState("");
  const [before] = useState(() => language);
  const left = language === before ? 0 : Object.keys(words).length;
  if (error) return <Problem error={error} />;
  const groups = [...new Set(data?.map((one) => one.group))];
  const set = (key: string, own: string) => {
    const others = Object.entries(words).filter(([one]) => one !== key);
    onChange(Object.fromEntries(own ? [...others, [key, own]] : others));
  };
  return (
    <Stack component="section" aria-label="Standard texts">
      <Typography variant="subtitle2" component="h4">
        Standard texts
      </Typography>
      <Typography variant="body2" color="textSecondary" sx={{ mb: 0.5 }}>
        Shown in the language above. You can replace each with your own words, which are not
        translated.
      </Typography>
      <Typography variant="body2" color="warning" role="status">
        {left > 0 &&
          `The language is another one now. ${counted(left, "text is", "texts are")} still in your own words as they were: reword or remove them.`}
      </Typography>
      {groups.map((group) => {
        const texts = data?.filter((one) => one.group === group) ?? [];
        const own = texts.filter((one) => words[one.key]).length;
        const isOpen = open === group;
        return (
          <Box key={group} sx={{ borderTop: 1, borderColor: "divider" }}>
            <Button
              fullWidth
              color="inherit"
              aria-expanded={isOpen}
              onClick={() => setOpen(isOpen ? "" : group)}
              sx={{ justifyContent: "flex-start", gap: 1, px: 0.5, minHeight: 36 }}
            >
              {group}{" "}
              <Typography component="span" variant="body2" color="textSecondary">
                {own > 0
                  ? `${own} of ${texts.length} changed`
                  : counted(texts.length, "text", "texts")}
              </Typography>
            </Button>
            {isOpen && (
              <Stack spacing={1.5} sx={{ pt: 0.5, pb: 1.5, pl: 0.5 }}>
                {texts.map((one) => (
                  <OwnText
                    key={one.key}
                    text={one}
                    own={words[one.key] ?? ""}
                    readOnly={readOnly}
                    wrong={wrong?.(one.key)}
                    onChange={(value) => set(one.key, value)}
                  />
                ))}
              </Stack>
            )}
          </Box>
        );
      })}
    </Stack>
  );
}

function OwnText(props: {
  text: Schemas["TextOut"];
  own: string;
  readOnly: boolean;
  wrong: string | undefined;
  onChange: (own: string) => void;
}) {
  const { text, own, readOnly, wrong, onChange } = props;
  const tokens = text.tokens.map((one) => `{{ ${one} }}`).join(" and ");
  const filled =
    text.tokens.length > 0
      ? `${tokens} ${text.tokens.length > 1 ? "are" : "is"} filled in.`
      : undefined;
  return (
    <TextField
      label={own ? text.usual : ""}
      placeholder={text.usual}
      value={own}
      disabled={readOnly}
      error={Boolean(wrong)}
      helperText={wrong ?? filled}
      onChange={(event) => onChange(event.target.value)}
      slotProps={{ htmlInput: { "aria-label": text.usual, maxLength: 400 } }}
      sx={{ maxWidth: 640 }}
    />
  );
}
