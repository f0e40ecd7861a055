import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import MenuItem from "@mui/material/MenuItem";
import TextField from "@mui/material/TextField";
import Typography from "@mui/material/Typography";
import { Fragment } from "react";
import type { Schemas } from "../../api/client";
import { TagPicker } from "../../parts/TagPicker";
import { useLatest } from "../../parts/useLatest";
import { useMaking } from "../../parts/useMaking";
import type { Question } from "../sources/routeDocument";

type Action = Schemas["TagByAnswer"];

interface TagTableProps {
  action: Action;
  questions: Question[];
  tags: Schemas["CatalogueOut"]["tags"];
  readOnly: boolean;
  onChange: (action: Action) => void;
}

const NONE: string[] = [];

/** A table of choice and tags; rows of choices that are gone stay until they are emptied. */
export function TagTable({ action, questions, tags, readOnly, onChange }: TagTableProps) {
  const making = useMaking();
  const latest = useLatest(action);
  const question = questions.find((one) => one.name === action.question);
  const rows = [
    ...(question?.choices ?? []).map((one) => ({ key: one.key, label: one.label })),
    ...action.table
      .filter((row) => row.tags.length && !question?.choices.some((one) => one.key === row.choice))
      .map((row) => ({ key: row.choice, label: `${row.choice} (not offered)` })),
  ];
  const tagsOf = (choice: string) =>
    action.table.find((row) => row.choice === choice)?.tags ?? NONE;
  const setTags = (choice: string, ids: string[]) =>
    onChange({
      ...action,
      table: [
        ...action.table.filter((row) => row.choice !== choice),
        ...(ids.length ? [{ choice, tags: ids }] : []),
      ],
    });
  const empty = (question?.choices ?? []).filter((one) => tagsOf(one.key).length === 0);
  const makeAll = async () => {
    // One after the other: each answer of the server is one more tag that the next one knows.
    const made: Action["table"] = [];
    for (const one of empty) {
      const name = one.label.toLowerCase();
      const known = tags.find((tag) => tag.name.toLowerCase() === name);
      made.push({ choice: one.key, tags: [known?.id ?? (await making.tag(name))] });
    }
    // A choice that was given its tags meanwhile keeps them.
    const { table, ...rest } = latest.current;
    const filled = table.filter((row) => row.tags.length);
    const choices = new Set(filled.map((row) => row.choice));
    onChange({ ...rest, table: [...filled, ...made.filter((row) => !choices.has(row.choice))] });
  };
  return (
    <>
      <TextField
        select
        label="Question"
        value={action.question}
        disabled={readOnly}
        error={!question}
        onChange={(event) => onChange({ ...action, question: event.target.value })}
        sx={{ maxWidth: 320, mb: 1 }}
      >
        {!question && <MenuItem value={action.question}>{action.question || "none"}</MenuItem>}
        {questions.map((one) => (
          <MenuItem key={one.id} value={one.name}>
            {one.label}
          </MenuItem>
        ))}
      </TextField>
      <Box
        sx={{
          display: "grid",
          gridTemplateColumns: "minmax(90px, auto) 16px minmax(0, 1fr)",
          gap: 1,
          alignItems: "center",
        }}
      >
        {rows.map((row) => (
          <Fragment key={row.key}>
            <Typography variant="body2">{row.label}</Typography>
            <Box aria-hidden>→</Box>
            <TagPicker
              label={`Tags for ${row.label}`}
              tags={tags}
              value={tagsOf(row.key)}
              disabled={readOnly}
              onChange={(ids) => setTags(row.key, ids)}
              onMake={making.tag}
              suggests={row.label.toLowerCase()}
            />
          </Fragment>
        ))}
      </Box>
      {!readOnly && empty.length > 1 && (
        <Button onClick={() => void makeAll()}>
          Name a tag after each choice: {empty.map((one) => one.label.toLowerCase()).join(", ")}
        </Button>
      )}
    </>
  );
}
