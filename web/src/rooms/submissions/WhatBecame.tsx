import Typography from "@mui/material/Typography";
import type { Schemas } from "../../api/client";
import { Band, BandRow } from "../../parts/Band";

type Effect = Schemas["Decision"]["effects"][number];

interface WhatBecameProps {
  decision: Schemas["Decision"];
  /** Whether it is still to come: what would happen if it were let through now. */
  foreseen?: boolean;
}

/** What a decision did, and what it could not do. */
export function WhatBecame({ decision, foreseen = false }: WhatBecameProps) {
  return (
    <Band
      name="Then"
      note={foreseen ? "what would happen now" : decision.is_new ? "a new subscriber" : ""}
    >
      {decision.effects.length === 0 && decision.problems.length === 0 && (
        <BandRow>{foreseen ? "Nothing would change." : "Nothing changed."}</BandRow>
      )}
      {decision.effects.map((effect, index) => (
        <BandRow key={index} ruled={index > 0}>
          <Typography variant="body2">
            {inWords(effect)}{" "}
            <Typography component="span" variant="body2" color="textSecondary">
              because {effect.because.sentence}
            </Typography>
          </Typography>
        </BandRow>
      ))}
      {decision.problems.map((problem) => (
        <BandRow key={problem.code + problem.place} ruled>
          <Typography variant="body2" color="error">
            {problem.sentence}
          </Typography>
          <Typography variant="body2">{problem.fix}</Typography>
        </BandRow>
      ))}
    </Band>
  );
}

function inWords(effect: Effect): string {
  switch (effect.kind) {
    case "set_field":
      return `${effect.label}: ${effect.shown}`;
    case "add_tag":
      return `Tag ${effect.name}`;
    case "subscribe":
      return `${effect.to[0]?.toUpperCase()}${effect.to.slice(1)} to ${effect.name}`;
    case "enter_sequence":
      return `Entered ${effect.name}`;
    case "ask_to_confirm":
      return `Asked by email to confirm ${effect.name}`;
    case "set_zone":
      return `Time zone: ${effect.after}`;
    case "leave_all_lists":
      return "Left every list";
    case "remove_tag":
      return `Removed the tag ${effect.name}`;
    case "score":
      return `Score ${effect.before} → ${effect.after}`;
    case "event":
      return `Event ${effect.name}`;
    case "leave_sequence":
      return `Left ${effect.name}`;
    case "tell_members":
      return `Told ${effect.names.join(", ")}`;
    case "send":
      return `Sent “${effect.name}”`;
    case "task":
      return `Task: ${effect.title}`;
    case "change_address":
      return effect.asks ? `Asked about the address ${effect.after}` : `Address ${effect.after}`;
    case "erase":
      return effect.asks ? "Asked whether to be erased" : "Erased";
    case "handoff":
      return `Handed to ${effect.name}: ${effect.operation.toLowerCase()}`;
    case "owner":
      return `Owner: ${effect.name}`;
  }
}
