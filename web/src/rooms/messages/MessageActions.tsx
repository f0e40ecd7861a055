import { SaveNote } from "../../drafts/SaveNote";
import { UndoRedo } from "../../drafts/UndoRedo";
import { goTo, PreFlight } from "../../parts/Findings";
import { TurnOn } from "../../parts/TurnOn";
import type { MessageEditing } from "./useMessageEditing";

/** Whether a message is saved, the ways back and forth, what pre-flight found, and turning changes on. */
export function MessageActions({ editing }: { editing: MessageEditing }) {
  const { draft, message, readOnly, turnOn } = editing;
  return (
    <>
      {!readOnly && <SaveNote state={draft.state} slow={draft.slow} />}
      {!readOnly && <UndoRedo draft={draft} />}
      <PreFlight findings={message.findings} />
      {!readOnly && (message.differs || (message.used && draft.state === "saving")) && (
        <TurnOn
          again
          findings={message.findings}
          disabled={!message.differs}
          changes={message.changes}
          says="What goes out before that is the live text."
          onSee={goTo}
          onTurnOn={turnOn}
        />
      )}
    </>
  );
}
