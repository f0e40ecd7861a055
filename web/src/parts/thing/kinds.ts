/** What can be renamed, copied, archived and deleted alike. */
export type Kind = "source" | "sequence" | "message";
