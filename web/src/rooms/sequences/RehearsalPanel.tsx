import Button from "@mui/material/Button";
import { useState } from "react";
import type { Schemas } from "../../api/client";
import { Problem } from "../../parts/Problem";
import { Panel } from "./Panel";
import { Part } from "./panelParts";
import { PersonPicker } from "../../parts/PersonPicker";
import { RehearsalAsking } from "./RehearsalAsking";
import { RehearsalList } from "./RehearsalList";
import { ASKED, useRehearsal, type Rehearsal, type RehearsalAsked } from "./rehearsal";
import { type SequenceDocument } from "./sequenceDocument";
import { TestSend } from "./TestSend";

interface RehearsalPanelProps {
  sequence: Schemas["SequenceOut"];
  document: SequenceDocument;
  catalogue: Schemas["CatalogueOut"];
  asked: RehearsalAsked;
  rehearsal: Rehearsal | undefined;
  error: unknown;
  onAsk: (asked: RehearsalAsked) => void;
  onClose: () => void;
}

/** Whom it is rehearsed with, what is assumed, and everything that happens, in order. */
export function RehearsalPanel(props: RehearsalPanelProps) {
  const { sequence, document, catalogue, asked, rehearsal, error, onAsk, onClose } = props;
  const [changing, setChanging] = useState(true);
  const [beside, setBeside] = useState<RehearsalAsked>();
  const other = useRehearsal(sequence, beside ?? ASKED, beside !== undefined);
  const name = asked.who.person ? (rehearsal?.name ?? "they") : "a made-up person";
  return (
    <Panel title={`What ${name} gets`} onClose={onClose}>
      {changing ? (
        <RehearsalAsking
          asked={asked}
          onAsk={onAsk}
          document={document}
          catalogue={catalogue}
          onDone={() => setChanging(false)}
        />
      ) : (
        <Button sx={{ p: 0 }} onClick={() => setChanging(true)}>
          Change person or assumptions
        </Button>
      )}
      <Problem error={error} />
      {rehearsal && (
        <RehearsalList
          rehearsal={rehearsal}
          document={document}
          catalogue={catalogue}
          person={asked.who.person}
        />
      )}
      {beside ? (
        <>
          <Part
            name={`Beside: ${beside.who.person ? (other.data?.name ?? "") : "a made-up person"}`}
          >
            <PersonPicker
              label="Other person"
              value={beside.who.person}
              onChange={(person) => setBeside({ ...beside, who: { ...beside.who, person } })}
            />
          </Part>
          {other.data && (
            <RehearsalList
              rehearsal={other.data}
              document={document}
              catalogue={catalogue}
              person={beside.who.person}
            />
          )}
          <Button onClick={() => setBeside(undefined)}>Remove the other person</Button>
        </>
      ) : (
        <Button onClick={() => setBeside({ ...asked, who: ASKED.who })}>
          Compare with another person
        </Button>
      )}
      <TestSend
        sequence={sequence.id}
        asked={asked}
        emails={rehearsal?.entries.filter((one) => one.kind === "sends").length ?? 0}
      />
    </Panel>
  );
}
