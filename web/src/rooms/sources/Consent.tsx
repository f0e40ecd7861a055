import Button from "@mui/material/Button";
import Stack from "@mui/material/Stack";
import Typography from "@mui/material/Typography";
import { useState } from "react";
import { Band, BandRow } from "../../parts/Band";
import { FindingsAt } from "../../parts/Findings";
import { newId } from "../../parts/newId";
import { useRoute } from "./RouteContext";
import { ConsentLine } from "./ConsentLine";
import { OutcomeSample } from "./OutcomeSample";
import { isBox } from "./questions/registry";
import type { RouteDocument } from "./routeDocument";

/** Which lists people are subscribed to, and what they agree to by it. */
export function Consent() {
  const { source, document, edit, catalogue, sample, findings, readOnly, choice, seen } =
    useRoute();
  const [editing, setEditing] = useState("");
  const boxes = [
    ...document.form.questions.filter((one) => isBox(one) && one.name),
    ...seen
      .filter((one) => source.kind !== "form" && one.field_type === "yes_no")
      .map((one) => ({ id: one.name, name: one.name, label: one.name })),
  ];
  const confirms = new Set(catalogue.lists.filter((one) => one.confirms).map((one) => one.id));
  type Line = RouteDocument["consent"][number];
  const setLines = (change: (lines: Line[]) => Line[]) =>
    edit((route) => ({ ...route, consent: change(route.consent) }));
  const change = (id: string, part: Partial<Line>) =>
    setLines((all) => all.map((one) => (one.id === id ? { ...one, ...part } : one)));
  const add = () => {
    const id = newId("c");
    setLines((all) => [...all, { id, list: null, question: "", wording: "", confirm: false }]);
    setEditing(id);
  };
  return (
    <Band
      name="Consent"
      id="consent"
      note={
        document.consent.length === 0
          ? "no list"
          : document.consent.some((one) => one.confirm || confirms.has(one.list ?? ""))
            ? "confirmed by email"
            : "single opt-in"
      }
    >
      {document.consent.map((line, index) => (
        <BandRow
          key={line.id}
          id={line.id}
          ruled={index > 0}
          sample={choice && <OutcomeSample sample={sample} line={line.id} />}
        >
          <ConsentLine
            line={line}
            kind={source.kind}
            boxes={boxes}
            lists={catalogue.lists}
            asked={confirms.has(line.list ?? "")}
            readOnly={readOnly}
            open={!readOnly && editing === line.id}
            onOpen={(opens) => setEditing(opens ? line.id : "")}
            onChange={(part) => change(line.id, part)}
            onRemove={() => setLines((all) => all.filter((one) => one.id !== line.id))}
          />
          <FindingsAt findings={findings} place={line.id} />
        </BandRow>
      ))}
      {document.consent.length === 0 && (
        <BandRow>
          <Typography color="textSecondary">
            Nobody who comes in here is subscribed to a list.
          </Typography>
        </BandRow>
      )}
      {!readOnly && (
        <Stack sx={{ pt: 0.75, pl: 1.5, alignItems: "flex-start" }}>
          <Button onClick={add}>Add a list</Button>
        </Stack>
      )}
    </Band>
  );
}
