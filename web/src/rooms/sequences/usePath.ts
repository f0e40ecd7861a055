import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import type { Schemas } from "../../api/client";
import { pathQuery } from "../../api/sequences";
import { useSlug } from "../../api/workspace";

type Part = Schemas["PathPart"];
type Finding = Schemas["Finding"];

/** The id, on the sheet, of a source that leads into the sequence. */
export const sourcePlace = (source: string) => `source-${source}`;

/** What hangs together with a sequence and is a draft: which of it is turned on along with it, and what
 * pre-flight finds in that. What leads in for the first time is, unless it is left out. */
export function usePath(sequence: Schemas["SequenceOut"]) {
  const workspace = useSlug();
  const { data, isPlaceholderData } = useQuery(pathQuery(workspace, sequence.id, sequence.edits));
  const parts = data?.parts ?? [];
  const own = data && !isPlaceholderData ? data.findings : sequence.findings;
  const [chosen, setChosen] = useState<Record<string, boolean>>({});
  const isChosen = (part: Part) => chosen[part.id] ?? part.first;
  const along = parts.filter(isChosen);
  const steps = sequence.document.lanes.flatMap((lane) => lane.steps);
  const others = along.flatMap((part) =>
    part.findings.map((one): Finding => ({
      ...one,
      code: `${part.id} ${one.code}`,
      sentence: `“${part.name}”: ${one.sentence}`,
      place:
        part.kind === "source"
          ? sourcePlace(part.id)
          : (steps.find((step) => step.kind === "send" && step.message === part.id)?.id ?? ""),
    })),
  );
  return {
    parts,
    along: along.map(({ kind, id, edits }) => ({ kind, id, based_on: edits })),
    /** Of the sequence, its emails as they are written now. */
    own,
    /** Of all that is turned on together. */
    findings: [...own, ...others],
    isChosen,
    choose: (part: Part, on: boolean) => setChosen({ ...chosen, [part.id]: on }),
  };
}

export type Path = ReturnType<typeof usePath>;
