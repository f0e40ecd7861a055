import Checkbox from "@mui/material/Checkbox";
import FormControlLabel from "@mui/material/FormControlLabel";
import Stack from "@mui/material/Stack";
import type { Schemas } from "../../api/client";
import { LineTools } from "../../parts/LineTools";
import { SortableLine } from "../../parts/Sortable";
import { ActionForm } from "./ActionForm";
import type { Asked } from "./asked";
import { moved, type Question, type Rule } from "./routeDocument";
import { ACTIONS, tagNameFor } from "./ruleActions";
import { RuleWhen } from "./RuleWhen";

interface RuleLineProps {
  rule: Rule;
  index: number;
  count: number;
  source: string;
  questions: Question[];
  asked: Asked[];
  catalogue: Schemas["CatalogueOut"];
  readOnly: boolean;
  onRules: (change: (rules: Rule[]) => Rule[]) => void;
}

/** One rule: on or off, when it acts, what it does, and its place in the order. */
export function RuleLine(props: RuleLineProps) {
  const { rule, index, count, source, questions, asked, catalogue, readOnly, onRules } = props;
  const change = (part: Partial<Rule>) =>
    onRules((all) => all.map((one) => (one.id === rule.id ? { ...one, ...part } : one)));
  const { action } = rule;
  const sourceName = catalogue.sources.find((one) => one.id === source)?.name ?? "";
  return (
    <SortableLine id={rule.id} name={`rule ${index + 1}`} disabled={readOnly}>
      <Stack direction="row" spacing={1} sx={{ alignItems: "center", pl: readOnly ? 0 : 1.5 }}>
        <FormControlLabel
          control={
            <Checkbox
              size="small"
              checked={rule.on}
              disabled={readOnly}
              onChange={(event) => change({ on: event.target.checked })}
            />
          }
          label={`${index + 1}. ${ACTIONS[action.kind]}${rule.on ? "" : " (off)"}`}
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
      <RuleWhen
        source={source}
        when={rule.when ?? null}
        catalogue={catalogue}
        asked={asked}
        readOnly={readOnly}
        onChange={(when) => change({ when })}
      />
      <ActionForm
        action={action}
        catalogue={catalogue}
        questions={questions}
        asked={asked}
        suggests={tagNameFor(rule, questions, sourceName)}
        readOnly={readOnly}
        onChange={(next) => change({ action: next })}
      />
    </SortableLine>
  );
}
