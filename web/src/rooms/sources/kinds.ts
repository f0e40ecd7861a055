import type { Kind } from "./routeDocument";

/** What each kind of source is called, and what it is for. */
export const KINDS: Record<Kind, { name: string; says: string }> = {
  form: { name: "form", says: "Made here: a page of its own, a piece of your page, or a pop-up" },
  posted: {
    name: "own HTML form",
    says: "A form in your website’s own style, posting to an address",
  },
  file: { name: "file", says: "Rows of a CSV or XLSX file, imported once or from time to time" },
  sheet: {
    name: "watched sheet",
    says: "A published sheet that somebody keeps, looked at regularly",
  },
  webhook: { name: "webhook", says: "Another program that sends JSON" },
};
