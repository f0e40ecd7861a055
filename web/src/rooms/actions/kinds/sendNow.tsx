import Stack from "@mui/material/Stack";
import { Picker } from "../../../parts/Picker";
import { ActionRow } from "../ActionRow";
import type { ActionFormProps, ActionKind, ActionOf } from "../ActionKind";

function Form({ action, catalogue, readOnly, onChange }: ActionFormProps<ActionOf<"send_now">>) {
  return (
    <ActionRow>
      <Stack sx={{ width: 240 }}>
        <Picker
          label="Message"
          options={catalogue.messages}
          value={action.message ?? null}
          disabled={readOnly}
          onChange={(message) => onChange({ ...action, message })}
        />
      </Stack>
      <Stack sx={{ width: 220 }}>
        <Picker
          label="Link unsubscribes from"
          options={catalogue.lists}
          value={action.list ?? null}
          disabled={readOnly}
          onChange={(list) => onChange({ ...action, list })}
        />
      </Stack>
    </ActionRow>
  );
}

/** Sends a message at once. */
export const sendNow: ActionKind<"send_now"> = {
  words: "Send a message now",
  make: () => ({ kind: "send_now", message: null, list: null }),
  Form,
};
