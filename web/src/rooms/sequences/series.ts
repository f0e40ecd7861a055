import { newId } from "../../parts/newId";
import { inserted, isAskedFirst, type SequenceDocument } from "./sequenceDocument";
import { newStep } from "./steps/registry";

/** An email of a series: its message, and on which day of the series it goes. */
export interface OfSeries {
  message: string;
  day: number;
}

/** The emails of a series at the end of a lane, with waits between. People have asked for the first one
 * where an act of theirs leads straight to it, and for none after. */
export function seriesAdded(
  document: SequenceDocument,
  lane: string,
  emails: OfSeries[],
): SequenceDocument {
  return emails.reduce((before, { message, day }, index) => {
    const amount = Math.max(0, day - (emails[index - 1]?.day ?? 0));
    const found = before.lanes.find((one) => one.id === lane);
    if (!found) return before;
    const send = newStep("send", isAskedFirst(before, found) && amount === 0);
    const waited = amount
      ? inserted(before, lane, {
          kind: "wait",
          id: newId("s"),
          duration: { amount, unit: "days" },
        })
      : before;
    return inserted(waited, lane, { ...send, message } as typeof send);
  }, document);
}

/** Whether a lane sends something already, so that a first email is not its first. */
export const hasEmails = (document: SequenceDocument, lane: string) =>
  document.lanes.some((one) => one.id === lane && one.steps.some((step) => step.kind === "send"));
