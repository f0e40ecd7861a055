import { counted, number } from "../../parts/formats";
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Typography from "@mui/material/Typography";
import type { Schemas } from "../../api/client";
import { AGAIN, type Selection, type SequenceDocument } from "./sequenceDocument";
import { ENDED } from "./words";

interface SummaryProps {
  sequence: Schemas["SequenceOut"];
  document: SequenceDocument;
  words: Record<string, string>;
  lists: Schemas["NamedOut"][];
  findings: Schemas["Finding"][];
  selection: Selection | undefined;
  onSelect: (selection: Selection) => void;
  onPeople: (filter: { step?: string; ended?: string }) => void;
}

/** The sequence in a few lines: figures, goals, how people leave, when emails go. Each opens. */
export function Summary(props: SummaryProps) {
  const { sequence, document, words, lists, findings, selection, onSelect, onPeople } = props;
  const list = lists.find((one) => one.id === document.list)?.name ?? "no list yet";
  const from = document.sender.name || document.sender.address;
  const { goal } = sequence;
  const rate = goal.entered > 0 ? number((100 * goal.reached) / goal.entered, 1) : "";
  const part = (kind: Selection["kind"], id: string, label: string, text: string) => (
    <Part
      key={kind + id}
      at={id || kind}
      label={label}
      text={text}
      wrong={findings.find((one) => one.place === (id || kind))}
      selected={selection?.kind === kind && selection.id === id}
      onOpen={() => onSelect({ kind, id })}
    />
  );
  const order = Object.keys(ENDED);
  const ends = Object.entries(sequence.ended).sort(
    ([a], [b]) => order.indexOf(a) - order.indexOf(b),
  );
  return (
    <Box sx={{ py: 1.25 }}>
      <Typography variant="body2" component="div">
        <Button sx={{ p: 0 }} color="inherit" onClick={() => onPeople({ ended: "" })}>
          {number(sequence.under_way)} in progress
        </Button>
        {" · "}
        <Button sx={{ p: 0 }} color="inherit" onClick={() => onPeople({})}>
          {number(sequence.entered)} entered
        </Button>
        {rate && document.goals.length > 0 && (
          <>
            {" · goal "}
            <strong>{rate}%</strong> of {counted(goal.entered, "person", "people")}
            {goal.median_days !== null && `, after ${days(goal.median_days)} (median)`}
          </>
        )}
        {ends.map(([reason, count]) => (
          <span key={reason}>
            {" · "}
            <Button
              sx={{ p: 0, fontWeight: 400 }}
              color="inherit"
              onClick={() => onPeople({ ended: reason })}
            >
              {number(count)} {ENDED[reason] ?? reason}
            </Button>
          </span>
        ))}
      </Typography>
      <Box sx={{ display: "flex", flexWrap: "wrap", columnGap: 2.5 }}>
        {part("list", "", "Emails of", from ? `${list}, from ${from}` : list)}
        {document.goals.map((one) => part("goal", one.id, "Goal", words[one.id] ?? one.name))}
        {part("leaving", "", "Leaves", words["leaving"] ?? "")}
        {part("times", "", "Sends", words["times"] ?? "")}
        {part("again", "", "Second entry", document.again ? AGAIN[document.again] : "not decided")}
      </Box>
    </Box>
  );
}

function days(median: number): string {
  const rounded = median < 1 ? "less than a day" : `${Math.round(median)} days`;
  return rounded === "1 days" ? "1 day" : rounded;
}

function Part(props: {
  at: string;
  label: string;
  text: string;
  wrong: Schemas["Finding"] | undefined;
  selected: boolean;
  onOpen: () => void;
}) {
  const { at, label, text, wrong, selected, onOpen } = props;
  return (
    <Button
      id={at}
      color="inherit"
      aria-pressed={selected}
      onClick={onOpen}
      sx={{
        p: 0,
        fontWeight: 400,
        fontSize: "0.875rem",
        textAlign: "left",
        whiteSpace: "normal",
        flexShrink: 1,
        ...(selected && { outline: 2, outlineColor: "primary.main", outlineOffset: 2 }),
      }}
    >
      <span>
        <Box component="span" sx={{ color: "text.secondary" }}>
          {label}
        </Box>{" "}
        {text}
        {wrong && (
          <Box component="span" sx={{ color: wrong.stops ? "error.main" : "warning.main" }}>
            {" "}
            {wrong.stops ? "▲" : "△"} {wrong.sentence}
          </Box>
        )}
      </span>
    </Button>
  );
}
