import Button from "@mui/material/Button";
import Stack from "@mui/material/Stack";
import Typography from "@mui/material/Typography";
import { Band, BandRow } from "../../parts/Band";
import { FindingsAt } from "../../parts/Findings";
import { counted } from "../../parts/moment";
import { newId } from "../../parts/newId";
import type { BandsProps } from "./Bands";
import { OutcomeSample } from "./OutcomeSample";
import { RuleLine } from "./RuleLine";
import { type Rule } from "./routeDocument";

/** The rules, in order: tags for everybody, tags by answer, sequences that start. */
export function Then(props: BandsProps) {
  const { document, edit, catalogue, sample, findings, readOnly, choice } = props;
  const rules = document.then;
  const choices = document.form.questions.filter((one) => one.type === "choice" && one.name);
  const setRules = (change: (rules: Rule[]) => Rule[]) =>
    edit((route) => ({ ...route, then: change(route.then) }));
  const add = (action: Rule["action"]) =>
    setRules((all) => [...all, { id: newId("t"), on: true, action }]);
  return (
    <Band
      name="Then"
      id="then"
      note={rules.length ? counted(rules.length, "rule", "rules") : "no rules"}
    >
      {rules.length === 0 && (
        <BandRow>
          <Typography color="textSecondary">Nothing follows yet: no tag, no sequence.</Typography>
        </BandRow>
      )}
      {rules.map((rule, index) => (
        <BandRow
          key={rule.id}
          id={rule.id}
          ruled={index > 0}
          sample={choice && <OutcomeSample sample={sample} line={rule.id} />}
        >
          <RuleLine
            rule={rule}
            index={index}
            count={rules.length}
            questions={choices}
            catalogue={catalogue}
            readOnly={readOnly}
            onRules={setRules}
          />
          <FindingsAt findings={findings} place={rule.id} />
        </BandRow>
      ))}
      {!readOnly && (
        <Stack direction="row" spacing={1} sx={{ pt: 0.75, pl: 1.5 }}>
          <Button onClick={() => add({ kind: "add_tags", tags: [] })}>Tag everybody</Button>
          <Button
            disabled={choices.length === 0}
            onClick={() =>
              add({ kind: "tag_by_answer", question: choices[0]?.name ?? "", table: [] })
            }
          >
            Tag by answer
          </Button>
          <Button onClick={() => add({ kind: "start_sequence", sequence: null, lane: null })}>
            Start a sequence
          </Button>
        </Stack>
      )}
    </Band>
  );
}
