import Checkbox from "@mui/material/Checkbox";
import FormControlLabel from "@mui/material/FormControlLabel";
import { ActionRow } from "../ActionRow";
import { MembersPicker } from "../MembersPicker";
import type { ActionFormProps, ActionKind, ActionOf } from "../ActionKind";

function Form({ action, catalogue, readOnly, onChange }: ActionFormProps<ActionOf<"notify">>) {
  return (
    <ActionRow>
      <MembersPicker
        members={catalogue.members}
        value={action.members}
        readOnly={readOnly}
        onChange={(members) => onChange({ ...action, members })}
      />
      <FormControlLabel
        control={
          <Checkbox
            size="small"
            checked={action.owner}
            disabled={readOnly}
            onChange={(event) => onChange({ ...action, owner: event.target.checked })}
          />
        }
        label="And the owner"
      />
    </ActionRow>
  );
}

/** Tells members by email. */
export const notify: ActionKind<"notify"> = {
  words: "Tell members",
  make: () => ({ kind: "notify", members: [], owner: false }),
  Form,
};
