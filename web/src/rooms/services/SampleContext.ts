import { createContext, useContext } from "react";
import type { Schemas } from "../../api/client";

/** The sample that passes through the sheet, for what shows more of it than an outcome. */
export interface PassingSample {
  answers: { name: string; text: string }[];
  /** What the answers were read into, by the key of the field. */
  values: Record<string, unknown>;
  /** Whose last people are looked at. */
  source: string | null;
  /** The sequence whose last person is the sample. */
  sequence: string | null;
}

export const SampleContext = createContext<PassingSample>({
  answers: [],
  values: {},
  source: null,
  sequence: null,
});

/** The sample of the sheet; an empty one where none passes. */
export function usePassingSample(): PassingSample {
  return useContext(SampleContext);
}

/** The values that a decision read, by key. */
export function valuesRead(sample: Schemas["SampleOut"] | undefined): Record<string, unknown> {
  const values: Record<string, unknown> = {};
  for (const line of sample?.decision.reading ?? []) {
    if (line.field_key && line.after !== null && line.after !== undefined) {
      values[line.field_key] = line.after;
    }
  }
  const address = sample?.decision.address;
  return address ? { ...values, email: address } : values;
}
