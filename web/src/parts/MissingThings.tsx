import Alert from "@mui/material/Alert";
import type { Schemas } from "../api/client";

/** What a document that was put in refers to, and what is not here by that name. */
export function MissingThings({ missing }: { missing: Schemas["Reference"][] }) {
  if (missing.length === 0) return null;
  return (
    <Alert severity="warning" sx={{ mt: 1.5 }}>
      The file was put in as the draft. These are not here by their names, so their lines have to be
      chosen again: {missing.map((one) => `${one.kind} “${one.name}”`).join(", ")}.
    </Alert>
  );
}
