import { counted } from "../../../parts/formats";
import Button from "@mui/material/Button";
import Stack from "@mui/material/Stack";
import Typography from "@mui/material/Typography";
import { useState } from "react";
import type { Schemas } from "../../../api/client";
import { AddMenu } from "../../../parts/AddMenu";
import { Band, BandRow } from "../../../parts/Band";
import { FindingsAt } from "../../../parts/Findings";
import { newId } from "../../../parts/newId";
import { Sortable } from "../../../parts/Sortable";
import { askedBy } from "../asked";
import { useRoute } from "../RouteContext";
import { OutcomeSample } from "../OutcomeSample";
import type { Action } from "../../actions/ActionKind";
import { newAction, OFFERED } from "../../actions/registry";
import { RuleLine } from "./RuleLine";
import { isChoice } from "../questions/registry";
import { emptyQuestion, type Question, type RouteDocument, type Rule } from "../routeDocument";

/** The rules, in order: tags for everybody, tags by answer, sequences that start. */
export function Then() {
  const { source, document, edit, catalogue, sample, findings, words, readOnly, choice, seen } =
    useRoute();
  const [editing, setEditing] = useState("");
  const rules = document.then;
  const choices = choicesOf(document, seen);
  const setRules = (change: (rules: Rule[]) => Rule[]) =>
    edit((route) => ({ ...route, then: change(route.then) }));
  const asked = askedBy(document, seen);
  const add = (kind: Action["kind"]) => {
    const action = newAction(kind, choices[0]?.name ?? "");
    const id = newId("t");
    setRules((all) => [...all, { id, on: true, when: null, action }]);
    setEditing(id);
  };
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
      <Sortable items={rules} onOrder={(ordered) => setRules(() => ordered)}>
        {rules.map((rule, index) => (
          <BandRow
            key={rule.id}
            id={rule.id}
            ruled={index > 0}
            sample={choice && <OutcomeSample sample={sample} line={rule.id} />}
          >
            <RuleLine
              rule={rule}
              words={words[rule.id]}
              open={editing === rule.id}
              onOpen={(opens) => setEditing(opens ? rule.id : "")}
              index={index}
              count={rules.length}
              source={source.id}
              questions={choices}
              asked={asked}
              catalogue={catalogue}
              readOnly={readOnly}
              onRules={setRules}
            />
            <FindingsAt findings={findings} place={rule.id} />
          </BandRow>
        ))}
      </Sortable>
      {!readOnly && (
        <Stack direction="row" sx={{ pt: 0.75, pl: 1.5, gap: 1, flexWrap: "wrap" }}>
          <Button onClick={() => add("add_tags")}>Tag everybody</Button>
          <Button disabled={choices.length === 0} onClick={() => add("tag_by_answer")}>
            Tag by answer
          </Button>
          <Button onClick={() => add("start_sequence")}>Start a sequence</Button>
          <AddMenu label="Another rule …" options={OFFERED} onAdd={add} />
        </Stack>
      )}
    </Band>
  );
}

/** The questions that tags can be given by: those with choices, and those that came with few. */
function choicesOf(document: RouteDocument, seen: Schemas["SeenQuestion"][]): Question[] {
  const asked = document.form.questions.filter((one) => isChoice(one) && one.name);
  const names = new Set(document.form.questions.map((one) => one.name));
  const learned = seen
    .filter((one) => !names.has(one.name) && one.distinct > 0 && one.distinct <= 12)
    .map((one) => ({
      ...emptyQuestion("choice", false),
      id: one.name,
      name: one.name,
      label: one.name,
      choices: one.values.map((text) => ({ key: text, label: text, synonyms: [] })),
    }));
  return [...asked, ...learned];
}
