import Button from "@mui/material/Button";
import Dialog from "@mui/material/Dialog";
import DialogActions from "@mui/material/DialogActions";
import DialogContent from "@mui/material/DialogContent";
import DialogTitle from "@mui/material/DialogTitle";
import MenuItem from "@mui/material/MenuItem";
import Stack from "@mui/material/Stack";
import Tab from "@mui/material/Tab";
import Tabs from "@mui/material/Tabs";
import TextField from "@mui/material/TextField";
import { useState } from "react";
import type { Schemas } from "../../api/client";
import { useAttempt } from "../../api/useAttempt";
import { Picker } from "../../parts/Picker";
import { Problem } from "../../parts/Problem";
import type { SequenceDocument } from "./sequenceDocument";
import type { Lead } from "./useLeadIn";

interface LeadInDialogProps {
  document: SequenceDocument;
  catalogue: Schemas["CatalogueOut"];
  /** The lane that is proposed. */
  lane: string;
  onLead: (lead: Lead) => Promise<void>;
  onClose: () => void;
}

/** Lets a form, or another source, lead into a lane: a new one by its name, or one that is there. */
export function LeadInDialog(props: LeadInDialogProps) {
  const { document, catalogue, lane: proposed, onLead, onClose } = props;
  const list = catalogue.lists.find((one) => one.id === document.list);
  const [isNew, setNew] = useState(true);
  const [name, setName] = useState("");
  const [source, setSource] = useState<string | null>(null);
  const [lane, setLane] = useState(() => proposed);
  const [wording, setWording] = useState(() =>
    list ? `You also get ${list.name}. You can unsubscribe at any time.` : "",
  );
  const { attempt, failed, busy } = useAttempt();
  const lead: Lead | undefined = isNew
    ? name.trim()
      ? { new_form: name.trim(), lane, wording }
      : undefined
    : source
      ? { source, lane }
      : undefined;
  return (
    <Dialog open onClose={onClose} fullWidth maxWidth="xs">
      <form
        onSubmit={(event) => {
          event.preventDefault();
          if (!lead) return;
          void attempt(async () => {
            await onLead(lead);
            onClose();
          });
        }}
      >
        <DialogTitle>Add a form</DialogTitle>
        <DialogContent>
          <Tabs value={isNew} onChange={(_, chosen: boolean) => setNew(chosen)} sx={{ mb: 2 }}>
            <Tab value label="A new form" />
            <Tab value={false} label="An existing one" />
          </Tabs>
          <Stack spacing={1.5}>
            {isNew ? (
              <TextField
                autoFocus
                label="What is it for?"
                value={name}
                onChange={(event) => setName(event.target.value)}
                helperText="It asks for the address. Add more questions on its own sheet."
              />
            ) : (
              <Picker
                label="Form or other source"
                options={catalogue.sources}
                value={source}
                onChange={setSource}
              />
            )}
            {document.lanes.length > 1 && (
              <TextField
                select
                label="Leads to lane"
                value={lane}
                onChange={(event) => setLane(event.target.value)}
              >
                {document.lanes.map((one) => (
                  <MenuItem key={one.id} value={one.id}>
                    {one.name}
                  </MenuItem>
                ))}
              </TextField>
            )}
            {isNew && list && (
              <TextField
                label="What people read above the button, and agree to"
                multiline
                value={wording}
                onChange={(event) => setWording(event.target.value)}
                helperText={`Subscribes them to ${list.name}. Without this text they only get what they asked for.`}
              />
            )}
          </Stack>
          <Problem error={failed} />
        </DialogContent>
        <DialogActions>
          <Button onClick={onClose}>Cancel</Button>
          <Button type="submit" variant="contained" disabled={busy || !lead}>
            {isNew ? "Make the form" : "Add"}
          </Button>
        </DialogActions>
      </form>
    </Dialog>
  );
}
