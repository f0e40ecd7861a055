import Button from "@mui/material/Button";
import Stack from "@mui/material/Stack";
import TextField from "@mui/material/TextField";
import Typography from "@mui/material/Typography";
import { useState } from "react";
import type { Schemas } from "../../../api/client";
import { inputName } from "../routeDocument";

type Choice = Schemas["Choice"];

interface ChoicesEditorProps {
  choices: Choice[];
  onChange: (choices: Choice[]) => void;
}

/** What a visitor can choose from; a key keeps its meaning when the label is reworded. */
export function ChoicesEditor({ choices, onChange }: ChoicesEditorProps) {
  const [adding, setAdding] = useState("");
  const add = () => {
    const label = adding.trim();
    if (!label) return;
    const base = inputName(label).replaceAll("_", "-") || `choice-${choices.length + 1}`;
    const taken = new Set(choices.map((one) => one.key));
    let key = base;
    for (let number = 2; taken.has(key); number += 1) key = `${base}-${number}`;
    onChange([...choices, { key, label, synonyms: [] }]);
    setAdding("");
  };
  return (
    <Stack spacing={1}>
      <Typography variant="h3" component="h3">
        Choices
      </Typography>
      {choices.map((choice, index) => (
        <Stack key={choice.key} direction="row" spacing={1} sx={{ alignItems: "flex-end" }}>
          <TextField
            label={`Choice ${index + 1}`}
            value={choice.label}
            onChange={(event) =>
              onChange(
                choices.map((one) =>
                  one.key === choice.key ? { ...one, label: event.target.value } : one,
                ),
              )
            }
          />
          <Button
            color="inherit"
            aria-label={`Remove the choice ${choice.label}`}
            onClick={() => onChange(choices.filter((one) => one.key !== choice.key))}
          >
            Remove
          </Button>
        </Stack>
      ))}
      <Stack direction="row" spacing={1} sx={{ alignItems: "flex-end" }}>
        <TextField
          label="Another choice"
          value={adding}
          onChange={(event) => setAdding(event.target.value)}
          onKeyDown={(event) => {
            if (event.key !== "Enter") return;
            event.preventDefault();
            add();
          }}
        />
        <Button onClick={add} disabled={!adding.trim()}>
          Add
        </Button>
      </Stack>
    </Stack>
  );
}
