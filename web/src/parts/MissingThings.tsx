import Alert from "@mui/material/Alert";
import type { Schemas } from "../api/client";

/** What a document that was uploaded names and this workspace does not have. */
export function MissingThings({ missing }: { missing: Schemas["Reference"][] }) {
  if (missing.length === 0) return null;
  return (
    <Alert severity="warning" sx={{ mt: 1.5 }}>
      The file is the draft now. It names things that this workspace does not have; choose them
      again in their lines: {missing.map((one) => `${one.kind} “${one.name}”`).join(", ")}.
    </Alert>
  );
}
