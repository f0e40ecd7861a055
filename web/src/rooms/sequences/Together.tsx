import Checkbox from "@mui/material/Checkbox";
import FormControlLabel from "@mui/material/FormControlLabel";
import Stack from "@mui/material/Stack";
import Typography from "@mui/material/Typography";
import type { Path } from "./usePath";

/** What can be turned on along with the sequence: forms that lead into it, and emails with changes. */
export function Together({ path }: { path: Path }) {
  if (path.parts.length === 0) return null;
  return (
    <Stack role="group" aria-label="Also turn on" sx={{ my: 1.5 }}>
      <Typography variant="body2" sx={{ fontWeight: 600 }}>
        Also turn on
      </Typography>
      {path.parts.map((part) => (
        <FormControlLabel
          key={part.id}
          control={
            <Checkbox
              size="small"
              sx={{ py: 0.5 }}
              checked={path.isChosen(part)}
              onChange={(event) => path.choose(part, event.target.checked)}
            />
          }
          label={
            part.kind === "message"
              ? `Email “${part.name}”, with its changes`
              : `“${part.name}”, ${part.first ? "which starts this sequence" : "with its changes"}`
          }
        />
      ))}
    </Stack>
  );
}
