import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Checkbox from "@mui/material/Checkbox";
import FormControlLabel from "@mui/material/FormControlLabel";
import Stack from "@mui/material/Stack";
import Typography from "@mui/material/Typography";
import type { Schemas } from "../../../api/client";
import { LineTools } from "../../../parts/LineTools";
import { newId } from "../../../parts/newId";
import { SortableLine } from "../../../parts/Sortable";
import { useOpens } from "../../../parts/focus/useOpens";
import { ActionForm } from "../../actions/ActionForm";
import type { Asked } from "../asked";
import { moved, type Question, type Rule } from "../routeDocument";
import { ACTIONS } from "../../actions/registry";
import { tagNameFor } from "./tagNameFor";
import { RuleWhen } from "./RuleWhen";

interface RuleLineProps {
  rule: Rule;
  /** The rule as a sentence, once the server has said it. */
  words: Schemas["RuleWords"] | undefined;
  open: boolean;
  onOpen: (open: boolean) => void;
  index: number;
  count: number;
  source: string;
  questions: Question[];
  asked: Asked[];
  catalogue: Schemas["CatalogueOut"];
  readOnly: boolean;
  onRules: (change: (rules: Rule[]) => Rule[]) => void;
}

const copyOf = (rule: Rule): Rule => ({ ...structuredClone(rule), id: newId("t") });

/** One rule: a sentence, with its place in the order and whether it is on; it opens to be edited. */
export function RuleLine(props: RuleLineProps) {
  const { rule, index, count, source, questions, asked, catalogue, readOnly, onRules } = props;
  const { words, open, onOpen } = props;
  const change = (part: Partial<Rule>) =>
    onRules((all) => all.map((one) => (one.id === rule.id ? { ...one, ...part } : one)));
  const { action } = rule;
  const sourceName = catalogue.sources.find((one) => one.id === source)?.name ?? "";
  const root = useOpens<HTMLDivElement>(open, "opens when added");
  const name = `rule ${index + 1}`;
  return (
    <SortableLine id={rule.id} name={name} disabled={readOnly}>
      <Stack
        ref={open ? undefined : root}
        direction="row"
        spacing={1}
        sx={{ alignItems: "center", minHeight: 28, pl: readOnly ? 0 : 1.5 }}
      >
        <FormControlLabel
          control={
            <Checkbox
              size="small"
              checked={rule.on}
              disabled={readOnly}
              onChange={(event) => change({ on: event.target.checked })}
            />
          }
          label={
            <Typography component="span" sx={{ overflowWrap: "anywhere" }}>
              {index + 1}.{" "}
              {open || !words ? (
                ACTIONS[action.kind].words
              ) : (
                <>
                  <Typography component="span" color="textSecondary">
                    {words.when}:
                  </Typography>{" "}
                  {words.does}
                </>
              )}
              {rule.on ? "" : " (off)"}
            </Typography>
          }
          sx={{ minWidth: 0 }}
        />
        {!readOnly &&
          (open ? (
            <Button
              sx={{ ml: "auto !important" }}
              aria-label={`Done with ${name}`}
              onClick={() => onOpen(false)}
            >
              Done
            </Button>
          ) : (
            <LineTools
              name={name}
              onEdit={() => onOpen(true)}
              onUp={index > 0 ? () => onRules((all) => moved(all, index, -1)) : undefined}
              onDown={index < count - 1 ? () => onRules((all) => moved(all, index, 1)) : undefined}
              onDuplicate={() =>
                onRules((all) =>
                  all.flatMap((one) => (one.id === rule.id ? [one, copyOf(one)] : [one])),
                )
              }
              onRemove={() => onRules((all) => all.filter((one) => one.id !== rule.id))}
            />
          ))}
      </Stack>
      {open && (
        <Box
          ref={root}
          sx={{ pl: 1.5, pb: 1, ml: -1.5, borderLeft: 3, borderColor: "primary.main" }}
        >
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
        </Box>
      )}
    </SortableLine>
  );
}
