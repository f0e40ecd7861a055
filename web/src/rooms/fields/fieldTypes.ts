import type { Schemas } from "../../api/client";

export type FieldType = Schemas["FieldIn"]["type"];

/** What a field holds, in words. */
export const FIELD_TYPES: Record<FieldType, string> = {
  email: "email",
  text: "text",
  long_text: "long-text",
  phone: "phone",
  country: "country",
  date: "date",
  number: "number",
  yes_no: "yes-or-no",
  choice: "single-choice",
  choices: "multiple-choice",
  url: "web-address",
  language: "language",
  time_zone: "time-zone",
};
