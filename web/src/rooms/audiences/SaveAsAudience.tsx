import Button from "@mui/material/Button";
import { useState } from "react";
import { useMayChange } from "../../api/workspace";
import { NameDialog } from "../../parts/NameDialog";
import type { Group } from "../conditions/condition";
import { useMakeAudience } from "./useMakeAudience";

interface SaveAsAudienceProps {
  condition: Group;
  /** The condition in words: what the name begins with. */
  sentence: string;
}

/** Keeps a filter by a name. */
export function SaveAsAudience({ condition, sentence }: SaveAsAudienceProps) {
  const [asking, setAsking] = useState(false);
  const make = useMakeAudience();
  if (!useMayChange() || condition.of.length === 0) return null;
  return (
    <>
      <Button onClick={() => setAsking(true)}>Save as an audience</Button>
      {asking && (
        <NameDialog
          title="Save as an audience"
          label="What do you call these people?"
          hint="It always contains everybody who fits at that moment. Nobody is copied."
          action="Save"
          starts={sentence.slice(0, 80)}
          onClose={() => setAsking(false)}
          onName={(name) => make(name, condition)}
        />
      )}
    </>
  );
}
