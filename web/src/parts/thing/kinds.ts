/** What can be renamed, copied and deleted alike. */
export type Kind = "source" | "sequence" | "message" | "audience" | "broadcast";

/** What is said of a copy before it is made. */
export const OF_A_COPY: Record<Kind, string> = {
  source: "The copy is a draft, without people or history.",
  sequence: "The copy is a draft, without people or history.",
  message: "The copy is a draft, without people or history.",
  broadcast: "The copy is a draft: nothing goes out until it is sent.",
  audience: "The copy has the same condition. Change it on its own sheet.",
};
