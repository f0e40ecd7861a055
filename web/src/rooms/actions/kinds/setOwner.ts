import type { ActionKind } from "../ActionKind";
import { OwnerForm } from "../OwnerForm";

/** Says which member looks after people. */
export const setOwner: ActionKind<"set_owner"> = {
  words: "Set the owner",
  make: () => ({ kind: "set_owner", how: "fixed", members: [], question: "", table: [] }),
  Form: OwnerForm,
};
