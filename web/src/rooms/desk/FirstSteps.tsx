import Button from "@mui/material/Button";
import Stack from "@mui/material/Stack";
import Typography from "@mui/material/Typography";
import { useState, type ReactNode } from "react";
import { Link } from "react-router";
import type { Schemas } from "../../api/client";
import { useMayChange, useSlug } from "../../api/workspace";
import { Band, BandRow } from "../../parts/Band";
import { NewSource } from "../sources/NewSource";

/** In a new workspace: what to do first, until it is done. */
export function FirstSteps({ desk }: { desk: Schemas["DeskOut"] }) {
  const [asking, setAsking] = useState(false);
  const at = `/w/${useSlug()}`;
  const mayChange = useMayChange();
  const steps: [boolean, string, ReactNode][] = [
    [
      desk.has_sender,
      "Say who the emails come from",
      <Link key="settings" to={`${at}/settings`}>
        Settings
      </Link>,
    ],
    [
      desk.has_messages,
      "Write the email that delivers what the form promises",
      <Link key="messages" to={`${at}/messages`}>
        Messages
      </Link>,
    ],
    [
      desk.has_sequences,
      "Create sequence that sends it, and what follows",
      <Link key="sequences" to={`${at}/sequences`}>
        Sequences
      </Link>,
    ],
    [
      desk.has_sources,
      "Make the form, and decide what happens to its answers",
      <Button key="form" variant="outlined" onClick={() => setAsking(true)}>
        Make a form
      </Button>,
    ],
  ];
  if (!mayChange || steps.every(([done]) => done)) return null;
  return (
    <Band name="First steps" note="in any order">
      {steps.map(([done, says, way], index) => (
        <BandRow key={says} ruled={index > 0}>
          <Stack direction="row" spacing={2} sx={{ alignItems: "center", minHeight: 32 }}>
            <Typography color={done ? "textSecondary" : "textPrimary"}>
              {done ? "✓ " : "○ "}
              {says}
            </Typography>
            {!done && way}
          </Stack>
        </BandRow>
      ))}
      {asking && <NewSource onClose={() => setAsking(false)} />}
    </Band>
  );
}
