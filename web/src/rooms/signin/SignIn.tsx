import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import TextField from "@mui/material/TextField";
import Typography from "@mui/material/Typography";
import { useQueryClient } from "@tanstack/react-query";
import { useEffect, useState } from "react";
import { useNavigate, useSearchParams } from "react-router";
import { api, take } from "../../api/client";
import { Problem } from "../../parts/Problem";

/** Signing in. */
export function SignIn() {
  const [address, setAddress] = useState("");
  const [password, setPassword] = useState("");
  const [error, setError] = useState<unknown>();
  const [search] = useSearchParams();
  const client = useQueryClient();
  const go = useNavigate();
  useEffect(() => {
    document.title = "Sign in · Yalla";
  }, []);
  const signIn = async () => {
    setError(undefined);
    try {
      const session = await take(api.POST("/api/session", { body: { address, password } }));
      client.setQueryData(["session"], session);
      const next = search.get("next") ?? "/";
      await go(next.startsWith("/") && !next.startsWith("//") ? next : "/");
    } catch (caught) {
      setError(caught);
    }
  };
  return (
    <Box component="main" sx={{ maxWidth: 380, mx: "auto", mt: { xs: 4, md: 14 }, px: 3 }}>
      <Typography variant="h1" component="h1" sx={{ mb: 0.5 }}>
        Yalla
      </Typography>
      <Typography color="textSecondary" sx={{ mb: 3 }}>
        From the form to the last email, on one sheet.
      </Typography>
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
          autoFocus
          value={address}
          onChange={(event) => setAddress(event.target.value)}
          sx={{ mb: 2 }}
        />
        <TextField
          label="Password"
          type="password"
          autoComplete="current-password"
          required
          value={password}
          onChange={(event) => setPassword(event.target.value)}
          sx={{ mb: 2 }}
        />
        <Problem error={error} />
        <Button type="submit" variant="contained" size="medium">
          Sign in
        </Button>
      </form>
    </Box>
  );
}
