import type { Schemas } from "../../api/client";

/** The state of a connection, as a mark and a word: the mark's colour comes from the part. */
export const CONNECTION: Record<string, { mark: string; word: string }> = {
  new: { mark: "draft", word: "not tried yet" },
  working: { mark: "live", word: "working" },
  needs_look: { mark: "stuck", word: "needs attention" },
  paused: { mark: "paused", word: "paused" },
};

/** The state of a handoff. */
export const HANDOFF: Record<string, { mark: string; word: string }> = {
  waiting: { mark: "received", word: "waiting" },
  consent: { mark: "pending", word: "until they confirm" },
  sending: { mark: "received", word: "on its way" },
  done: { mark: "routed", word: "handed over" },
  not_possible: { mark: "held", word: "not possible there" },
  not_allowed: { mark: "unsubscribed", word: "not allowed" },
  failed: { mark: "stuck", word: "failed" },
};

/** What a field over there takes. */
export const FAR_TYPES: Record<Schemas["FarField"]["type"], string> = {
  text: "text",
  email: "email address",
  phone: "phone number",
  number: "number",
  date: "date",
  yes_no: "yes or no",
  choice: "one choice",
  choices: "several choices",
  country: "country",
  url: "web address",
};

/** What a connection signs in with, by the names that the server keeps it by. */
export const SECRETS: Record<Schemas["ServiceDescription"]["sign_in"]["kind"], [string, string][]> =
  {
    none: [],
    key: [["key", "API key"]],
    basic: [
      ["name", "User name"],
      ["password", "Password"],
    ],
    oauth_code: [
      ["client_id", "Client ID"],
      ["client_secret", "Client secret"],
    ],
    oauth_client: [
      ["client_id", "Client ID"],
      ["client_secret", "Client secret"],
    ],
    signed: [["signing", "Signing secret (whsec_…)"]],
  };
