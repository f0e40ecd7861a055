import Box from "@mui/material/Box";
import Typography from "@mui/material/Typography";
import { useEffect } from "react";
import { useNavigate, useSearchParams } from "react-router";
import { SignInForm } from "./SignInForm";

/** Signing in. */
export function SignIn() {
  const [search] = useSearchParams();
  const go = useNavigate();
  useEffect(() => {
    document.title = "Sign in · Yalla";
  }, []);
  const next = search.get("next") ?? "/";
  return (
    <Box component="main" sx={{ maxWidth: 380, mx: "auto", mt: { xs: 4, md: 14 }, px: 3 }}>
      <Typography variant="h1" component="h1" sx={{ mb: 0.5 }}>
        Yalla
      </Typography>
      <Typography color="textSecondary" sx={{ mb: 3 }}>
        From the form to the last email, on one sheet.
      </Typography>
      <SignInForm onDone={() => go(next.startsWith("/") && !next.startsWith("//") ? next : "/")} />
    </Box>
  );
}
