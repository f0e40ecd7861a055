import Button from "@mui/material/Button";
import TextField from "@mui/material/TextField";
import Typography from "@mui/material/Typography";
import { useState } from "react";
import { api, take, type Schemas } from "../../api/client";
import { useSession } from "../../api/session";
import { useSlug } from "../../api/workspace";
import { ConfirmDialog } from "../../parts/ConfirmDialog";
import { counted } from "../../parts/formats";
import { PersonPicker } from "../../parts/PersonPicker";

interface TestDialogProps {
  broadcast: string;
  document: Schemas["BroadcastDocument"];
}

/** Sends each version to stated addresses, marked as a test. */
export function TestDialog({ broadcast, document }: TestDialogProps) {
  const workspace = useSlug();
  const { data: session } = useSession();
  const [open, setOpen] = useState(false);
  const [typed, setTyped] = useState<string>();
  const [sent, setSent] = useState<number>();
  const [person, setPerson] = useState<Schemas["PersonLine"] | null>(null);
  const text = typed ?? session?.address ?? "";
  const to = text.split(/[\s,;]+/).filter(Boolean);
  const send = async () => {
    const done = await take(
      api.POST("/api/workspaces/{workspace}/broadcasts/{broadcast}/test", {
        params: { path: { workspace, broadcast } },
        body: { document, to, person: person?.id ?? null },
      }),
    );
    setSent(done.count);
  };
  return (
    <>
      <Button
        variant="outlined"
        onClick={() => {
          setSent(undefined);
          setOpen(true);
        }}
      >
        Send a test
      </Button>
      {open && (
        <ConfirmDialog
          title="Send a test"
          action="Send test"
          otherwise={sent === undefined ? "Cancel" : "Close"}
          disabled={to.length === 0}
          onClose={() => setOpen(false)}
          onConfirm={send}
        >
          <Typography variant="body2" sx={{ mb: 2 }}>
            {document.versions.length > 1 ? "Each version goes" : "It goes"} to these addresses now,
            marked as a test. Nothing in it is counted.
          </Typography>
          <TextField
            label="Addresses"
            multiline
            minRows={2}
            value={text}
            onChange={(event) => setTyped(event.target.value)}
            helperText="Up to 20, one on each line"
            sx={{ mb: 2 }}
          />
          <PersonPicker
            label="As this person would get it"
            none="Nobody in particular: all blocks, no data"
            value={person}
            onChange={setPerson}
          />
          {sent !== undefined && (
            <Typography role="status" sx={{ mt: 2 }}>
              Sent to {counted(sent, "address", "addresses")}.
            </Typography>
          )}
        </ConfirmDialog>
      )}
    </>
  );
}
