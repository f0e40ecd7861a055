import Dialog from "@mui/material/Dialog";
import DialogContent from "@mui/material/DialogContent";
import DialogTitle from "@mui/material/DialogTitle";
import Typography from "@mui/material/Typography";
import { useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { sessionQuery, useSession } from "../api/session";
import { signedOut, useSignedOut } from "../api/signedOut";
import { abandonAll } from "../drafts/openSessions";
import { forgetClosed } from "../drafts/useForm";
import { SignInForm } from "../rooms/signin/SignInForm";

/** Over whatever is open, where the session has ended meanwhile: one signs in again, and goes on there. */
export function SignInAgain() {
  const { data: session } = useSession();
  const client = useQueryClient();
  // Who was in: the session that has ended does not know any more.
  const [was, setWas] = useState("");
  if (session?.address && session.address !== was) setWas(session.address);
  const ended = useSignedOut() || session?.address === null;
  return (
    <Dialog open={ended} aria-labelledby="sign-in-again" fullWidth maxWidth="xs">
      <DialogTitle id="sign-in-again">You have been signed out</DialogTitle>
      <DialogContent>
        <Typography variant="body2" sx={{ mb: 2 }}>
          Sign in to continue. Your unsaved changes are kept and will be saved.
        </Typography>
        <SignInForm
          as={was}
          onDone={() => {
            // Somebody else gets neither what is open nor what was written in another name.
            const now = client.getQueryData(sessionQuery.queryKey)?.address;
            if (was && now !== was) {
              abandonAll();
              forgetClosed();
              window.location.assign("/");
              return;
            }
            signedOut.set(false);
            void client.invalidateQueries();
          }}
        />
      </DialogContent>
    </Dialog>
  );
}
