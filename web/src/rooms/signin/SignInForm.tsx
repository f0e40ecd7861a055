import Button from "@mui/material/Button";
import TextField from "@mui/material/TextField";
import { useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { api, take } from "../../api/client";
import { keepSession } from "../../api/session";
import { Problem } from "../../parts/Problem";

/** The address and the password; `onDone` once somebody is signed in by them. */
export function SignInForm({ as = "", onDone }: { as?: string; onDone: () => unknown }) {
  const [address, setAddress] = useState(() => as);
  const [password, setPassword] = useState("");
  const [error, setError] = useState<unknown>();
  const client = useQueryClient();
  const signIn = async () => {
    setError(undefined);
    try {
      const session = await take(api.POST("/api/session", { body: { address, password } }));
      keepSession(client, session);
      await onDone();
    } catch (caught) {
      setError(caught);
    }
  };
  return (
    <form
      onSubmit={(event) => {
        event.preventDefault();
        void signIn();
      }}
    >
      <TextField
        label="Email"
        type="email"
        autoComplete="username"
        required
        autoFocus={as === ""}
        value={address}
        onChange={(event) => setAddress(event.target.value)}
        sx={{ mb: 2 }}
      />
      <TextField
        label="Password"
        type="password"
        autoComplete="current-password"
        required
        autoFocus={as !== ""}
        value={password}
        onChange={(event) => setPassword(event.target.value)}
        sx={{ mb: 2 }}
      />
      <Problem error={error} />
      <Button type="submit" variant="contained" size="medium">
        Sign in
      </Button>
    </form>
  );
}
