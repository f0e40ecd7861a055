import Autocomplete from "@mui/material/Autocomplete";
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Stack from "@mui/material/Stack";
import TextField from "@mui/material/TextField";
import Typography from "@mui/material/Typography";
import { useQuery } from "@tanstack/react-query";
import { useEffect, useRef, useState } from "react";
import type { Schemas } from "../../api/client";
import { sayQuery, typedQuery } from "../../api/conditions";
import { useSlug } from "../../api/workspace";
import { isSame } from "../../drafts/isSame";
import { Loading } from "../../parts/Loading";
import { useSettled } from "../../parts/useSettled";
import type { Asked } from "../sources/asked";
import type { Group } from "./condition";

interface TypedConditionProps {
  group: Group;
  asked: Asked[];
  onChange: (group: Group) => void;
}

/** A condition as a sentence that one types. */
export function TypedCondition({ group, asked, onChange }: TypedConditionProps) {
  const workspace = useSlug();
  const questions = asked.map((one) => ({
    name: one.name,
    label: one.label,
    choices: one.question?.choices ?? [],
  }));
  // What stands in the box is the member's own; what becomes of the condition elsewhere (undone, another
  // tab) begins the box anew.
  const [starts, setStarts] = useState(() => ({ group, times: 0 }));
  const [mine, setMine] = useState(() => group);
  if (!isSame(group, mine)) {
    setMine(group);
    setStarts({ group, times: starts.times + 1 });
  }
  const { data, error } = useQuery(sayQuery(workspace, starts.group, questions));
  if (!data) return <Loading error={error} />;
  return (
    <Writing
      key={starts.times}
      starts={starts.group.of.length === 0 ? "" : data.sentence}
      questions={questions}
      onSaid={(said) => {
        if (isSame(said, mine)) return;
        setMine(said);
        onChange(said);
      }}
      onEmptied={() => {
        const nothing = { ...group, of: [] };
        setMine(nothing);
        onChange(nothing);
      }}
    />
  );
}

interface WritingProps {
  starts: string;
  questions: Schemas["AskedIn"][];
  onSaid: (said: Group) => void;
  onEmptied: () => void;
}

function Writing({ starts, questions, onSaid, onEmptied }: WritingProps) {
  const workspace = useSlug();
  const [text, setText] = useState(() => starts);
  const [cursor, setCursor] = useState(starts.length);
  const box = useRef<HTMLTextAreaElement>(null);
  const asked = useSettled({ text, cursor: Math.min(cursor, text.length) }, 120);
  const { data, isPlaceholderData } = useQuery(
    typedQuery(workspace, asked.text, asked.cursor, questions),
  );
  const fresh = data && !isPlaceholderData && asked.text === text ? data : undefined;
  const said = fresh?.condition;
  useEffect(() => {
    // Nothing is changed by opening it.
    if (said && text !== starts && text.trim()) onSaid(said);
    // Only what is typed changes the condition.
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [said]);
  const [problem] = text.trim() ? (data?.problems ?? []) : [];
  const wrong = problem !== undefined && !problem.unfinished;
  const put = (start: number, end: number, words: string) => {
    setText(`${text.slice(0, start)}${words}${text.slice(end)}`);
    const at = start + words.length;
    setCursor(at);
    requestAnimationFrame(() => {
      box.current?.focus();
      box.current?.setSelectionRange(at, at);
    });
  };
  const proposals = fresh?.proposals ?? [];
  return (
    <Box>
      <Autocomplete
        freeSolo
        disableClearable
        autoHighlight={false}
        options={proposals}
        getOptionLabel={(one) => (typeof one === "string" ? one : one.text.trim())}
        filterOptions={(all) => all}
        inputValue={text}
        onInputChange={(_, next, reason) => {
          if (reason !== "input") return;
          setText(next);
          if (!next.trim()) onEmptied();
        }}
        onChange={(_, one) => {
          if (typeof one !== "string") put(one.start, asked.cursor, one.text);
        }}
        // One proposal is followed by the next ones.
        disableCloseOnSelect
        renderInput={(params) => (
          <TextField
            {...params}
            inputRef={box}
            label="Who, in words"
            multiline
            autoFocus
            error={wrong}
            placeholder="has the tag … and is subscribed to …"
            onSelect={(event) => {
              const at = (event.target as HTMLTextAreaElement).selectionStart;
              if (typeof at === "number") setCursor(at);
            }}
          />
        )}
      />
      <Box role="status" sx={{ minHeight: 24, mt: 0.5 }}>
        {problem && !wrong && (
          <Typography variant="body2" color="textSecondary">
            {problem.sentence}
          </Typography>
        )}
        {problem && wrong && (
          <>
            <Typography variant="body2" sx={{ overflowWrap: "anywhere" }}>
              {asked.text.slice(0, problem.start)}
              <Box
                component="mark"
                sx={{
                  bgcolor: "transparent",
                  color: "error.main",
                  textDecoration: "underline wavy",
                  textUnderlineOffset: 3,
                }}
              >
                {asked.text.slice(problem.start, problem.end)}
              </Box>
              {asked.text.slice(problem.end)}
            </Typography>
            <Typography variant="body2" color="error">
              {problem.sentence}
            </Typography>
            {fresh && problem.could.length > 0 && (
              <Stack direction="row" useFlexGap sx={{ flexWrap: "wrap", alignItems: "center" }}>
                <Typography variant="body2" color="textSecondary" sx={{ mr: 0.5 }}>
                  Could be meant:
                </Typography>
                {problem.could.map((one) => (
                  <Button
                    key={one}
                    size="small"
                    onClick={() => put(problem.start, problem.end, one)}
                  >
                    {one}
                  </Button>
                ))}
              </Stack>
            )}
          </>
        )}
      </Box>
    </Box>
  );
}
