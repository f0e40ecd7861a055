import Box from "@mui/material/Box";
import type { Schemas } from "../../api/client";
import { Band, BandRow } from "../../parts/Band";
import { FindingsAt } from "../../parts/Findings";
import { Picker } from "../../parts/Picker";
import { useMaking } from "../../parts/useMaking";
import type { SequenceDocument } from "./sequenceDocument";

interface SequenceListProps {
  document: SequenceDocument;
  edit: (change: (before: SequenceDocument) => SequenceDocument) => void;
  lists: Schemas["NamedOut"][];
  findings: Schemas["Finding"][];
  readOnly: boolean;
}

/** The list its emails belong to: who may get them, and what unsubscribing ends. */
export function SequenceList({ document, edit, lists, findings, readOnly }: SequenceListProps) {
  const making = useMaking();
  return (
    <Band name="List" note="who may get them">
      <BandRow id="list">
        <Box sx={{ maxWidth: 360, pt: 0.75 }}>
          <Picker
            label="Its emails belong to the list"
            options={lists}
            value={document.list ?? null}
            disabled={readOnly}
            onChange={(list) => edit((before) => ({ ...before, list }))}
            onMake={making.list}
            makes="list"
          />
        </Box>
        <FindingsAt findings={findings} place="list" />
        <FindingsAt findings={findings} place="sender" />
        <FindingsAt findings={findings} place="lanes" />
      </BandRow>
    </Band>
  );
}
