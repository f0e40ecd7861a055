import Checkbox from "@mui/material/Checkbox";
import FormControlLabel from "@mui/material/FormControlLabel";
import Stack from "@mui/material/Stack";
import type { Schemas } from "../../api/client";
import { LineTools } from "../../parts/LineTools";
import { TagPicker } from "../../parts/TagPicker";
import { useMaking } from "../../parts/useMaking";
import { moved, type Question, type Rule } from "./routeDocument";
import { StartAction } from "./StartAction";
import { TagTable } from "./TagTable";

interface RuleLineProps {
  rule: Rule;
  index: number;
  count: number;
  questions: Question[];
  catalogue: Schemas["CatalogueOut"];
  readOnly: boolean;
  onRules: (change: (rules: Rule[]) => Rule[]) => void;
}

/** One rule: on or off, what it does, and its place in the order. */
export function RuleLine(props: RuleLineProps) {
  const { rule, index, count, questions, catalogue, readOnly, onRules } = props;
  const making = useMaking();
  const change = (part: Partial<Rule>) =>
    onRules((all) => all.map((one) => (one.id === rule.id ? { ...one, ...part } : one)));
  const { action } = rule;
  return (
    <>
      <Stack direction="row" spacing={1} sx={{ alignItems: "center" }}>
        <FormControlLabel
          control={
            <Checkbox
              size="small"
              checked={rule.on}
              disabled={readOnly}
              onChange={(event) => change({ on: event.target.checked })}
            />
          }
          label={`${index + 1}. ${WORDS[action.kind]}${rule.on ? "" : " (off)"}`}
        />
        {!readOnly && (
          <LineTools
            name={`rule ${index + 1}`}
            onUp={index > 0 ? () => onRules((all) => moved(all, index, -1)) : undefined}
            onDown={index < count - 1 ? () => onRules((all) => moved(all, index, 1)) : undefined}
            onRemove={() => onRules((all) => all.filter((one) => one.id !== rule.id))}
          />
        )}
      </Stack>
      {action.kind === "add_tags" && (
        <TagPicker
          label="Tags"
          tags={catalogue.tags}
          value={action.tags}
          disabled={readOnly}
          onChange={(tags) => change({ action: { ...action, tags } })}
          onMake={making.tag}
        />
      )}
      {action.kind === "tag_by_answer" && (
        <TagTable
          action={action}
          questions={questions}
          tags={catalogue.tags}
          readOnly={readOnly}
          onChange={(next) => change({ action: next })}
        />
      )}
      {action.kind === "start_sequence" && (
        <StartAction
          action={action}
          sequences={catalogue.sequences}
          readOnly={readOnly}
          onChange={(next) => change({ action: next })}
        />
      )}
    </>
  );
}

const WORDS: Record<Rule["action"]["kind"], string> = {
  add_tags: "Tag everybody",
  tag_by_answer: "Tag by answer",
  start_sequence: "Start a sequence",
};
