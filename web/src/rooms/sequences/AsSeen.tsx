import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Dialog from "@mui/material/Dialog";
import DialogActions from "@mui/material/DialogActions";
import DialogContent from "@mui/material/DialogContent";
import DialogTitle from "@mui/material/DialogTitle";
import { useQuery } from "@tanstack/react-query";
import { previewQuery } from "../../api/messages";
import { type Schemas } from "../../api/client";
import { useSlug } from "../../api/workspace";

/** An email as that person would see it. */
export function AsSeen(props: {
  message: string;
  person: Schemas["PersonLine"] | null;
  onClose: () => void;
}) {
  const workspace = useSlug();
  const { message, person, onClose } = props;
  const query = `?live=true${person ? `&person=${person.id}` : ""}`;
  const { data } = useQuery(
    previewQuery(workspace, message, "live", { live: true, ...(person && { person: person.id }) }),
  );
  return (
    <Dialog open onClose={onClose} fullWidth maxWidth="sm">
      <DialogTitle>{data?.subject || "Email"}</DialogTitle>
      <DialogContent>
        <Box
          component="iframe"
          title="The email"
          sandbox=""
          src={`/api/workspaces/${workspace}/messages/${message}/preview.html${query}`}
          sx={{ width: "100%", height: 460, border: 0, bgcolor: "#fff" }}
        />
      </DialogContent>
      <DialogActions>
        <Button onClick={onClose}>Close</Button>
      </DialogActions>
    </Dialog>
  );
}
