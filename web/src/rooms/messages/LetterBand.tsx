import { Band } from "../../parts/Band";
import { LetterSheet } from "./letter/LetterSheet";
import type { MessageEditing } from "./useMessageEditing";

/** The letter of a message, to be written. */
export function LetterBand({ editing }: { editing: MessageEditing }) {
  const { draft, readOnly } = editing;
  const { edit } = draft;
  return (
    <Band name="Letter" note={readOnly ? "" : "click a part to edit it"}>
      <LetterSheet
        key={draft.takenOver}
        blocks={draft.document.blocks}
        onChange={(change) => edit((before) => ({ ...before, blocks: change(before.blocks) }))}
      />
    </Band>
  );
}
