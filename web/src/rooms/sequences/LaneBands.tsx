import Button from "@mui/material/Button";
import Stack from "@mui/material/Stack";
import Typography from "@mui/material/Typography";
import { useState } from "react";
import type { Schemas } from "../../api/client";
import { Band, BandRow } from "../../parts/Band";
import { FindingsAt } from "../../parts/Findings";
import { counted } from "../../parts/moment";
import { newId } from "../../parts/newId";
import { clockOf, type Lane, type SequenceDocument, type Step } from "./sequenceDocument";
import { StepLine } from "./StepLine";
import { WaitingPeople } from "./WaitingPeople";

interface LaneBandsProps {
  /** With counts at each step; a past revision has none. */
  sequence?: Schemas["SequenceOut"];
  document: SequenceDocument;
  edit: (change: (before: SequenceDocument) => SequenceDocument) => void;
  messages: Schemas["NamedOut"][];
  readOnly: boolean;
}

/** The lane, read downwards: the clock in the margin, each step with its counts. */
export function LaneBands({ sequence, document, edit, messages, readOnly }: LaneBandsProps) {
  const [looking, setLooking] = useState<string>();
  const lane = document.lanes[0];
  if (!lane) return null;
  const setLane = (change: (before: Lane) => Lane) =>
    edit((before) => ({
      ...before,
      lanes: before.lanes.map((one) => (one.id === lane.id ? change(one) : one)),
    }));
  const setSteps = (change: (steps: Step[]) => Step[]) =>
    setLane((before) => ({ ...before, steps: change(before.steps) }));
  const clock = clockOf(lane.steps);
  const ended = Object.entries(sequence?.ended ?? {});
  return (
    <>
      {lane.steps.map((step, index) => {
        const count = sequence?.counts.find((one) => one.step === step.id);
        return (
          <Band
            key={step.id}
            id={step.id}
            name={step.kind === "send" ? (clock[index] ?? "") : ""}
            note={step.kind === "send" && index === 0 ? "from the door" : ""}
          >
            <BandRow
              sample={
                sequence && (
                  <Typography variant="body2">
                    {count ? `${counted(count.came, "person", "people")} so far` : "No one yet"}
                    {step.kind === "send" && count && <Emails count={count} />}
                    {count !== undefined && count.waiting > 0 && (
                      <Button sx={{ ml: 1 }} onClick={() => setLooking(step.id)}>
                        {count.waiting} waiting here
                      </Button>
                    )}
                  </Typography>
                )
              }
            >
              <StepLine
                step={step}
                index={index}
                count={lane.steps.length}
                messages={messages}
                readOnly={readOnly}
                onSteps={setSteps}
              />
              <FindingsAt findings={sequence?.findings ?? []} place={step.id} />
            </BandRow>
          </Band>
        );
      })}
      {sequence && (
        <Band name="Ends" note={ended.length ? "" : "nobody yet"}>
          {ended.length > 0 && (
            <BandRow>
              <Typography variant="body2">
                {ended
                  .map(([reason, people]) => `${people} ${ENDED[reason] ?? reason}`)
                  .join(" · ")}
              </Typography>
            </BandRow>
          )}
          {!readOnly && (
            <Stack direction="row" spacing={1} sx={{ pt: 0.75, pl: 1.5 }}>
              <Button
                onClick={() =>
                  setSteps((steps) => [
                    ...steps,
                    {
                      kind: "send",
                      id: newId("s"),
                      message: null,
                      at_once: steps.length === 0,
                      if_held: "wait",
                    },
                  ])
                }
              >
                Add an email
              </Button>
              <Button
                onClick={() =>
                  setSteps((steps) => [
                    ...steps,
                    { kind: "wait", id: newId("w"), duration: { amount: 1, unit: "days" } },
                  ])
                }
              >
                Add a wait
              </Button>
            </Stack>
          )}
        </Band>
      )}
      {sequence && looking && (
        <WaitingPeople
          sequence={sequence.id}
          step={looking}
          onClose={() => setLooking(undefined)}
        />
      )}
    </>
  );
}

/** What became of the emails of a step: each apart, and nothing of what there is none of. */
function Emails({ count }: { count: Schemas["StepCount"] }) {
  const held = count.held > 0 && `${count.held} held`;
  const failed = count.failed > 0 && `${count.failed} failed`;
  return (
    <>
      {" "}
      · {count.sent} sent
      {(held || failed) && (
        <Typography component="span" variant="body2" color="error">
          {" "}
          · {[held, failed].filter(Boolean).join(" · ")}
        </Typography>
      )}
    </>
  );
}

const ENDED: Record<string, string> = {
  finished: "went through to the end",
  unsubscribed: "left: unsubscribed",
  not_on_list: "left: not on the list",
  step_gone: "left: their step was removed",
};
