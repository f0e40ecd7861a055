import Stack from "@mui/material/Stack";
import { Band } from "../../parts/Band";
import type { MessageDocument } from "./letter/blocks";
import { TokenField } from "./letter/TokenField";

interface MessageHeadProps {
  document: MessageDocument;
  onChange: (change: Partial<MessageDocument>) => void;
}

/** What an inbox shows before the letter is opened. */
export function MessageHead(props: MessageHeadProps) {
  return (
    <Band name="In the inbox" id="subject">
      <InboxFields {...props} />
    </Band>
  );
}

/** Subject and preheader. */
export function InboxFields({ document, onChange }: MessageHeadProps) {
  return (
    <Stack spacing={1.5} sx={{ maxWidth: 560 }}>
      <TokenField
        label="Subject"
        value={document.subject}
        most={300}
        onChange={(subject) => onChange({ subject })}
      />
      <TokenField
        label="Preheader"
        value={document.preheader}
        helperText="The line that inboxes show after the subject"
        most={300}
        onChange={(preheader) => onChange({ preheader })}
      />
    </Stack>
  );
}
