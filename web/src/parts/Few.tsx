import Chip from "@mui/material/Chip";
import Stack from "@mui/material/Stack";
import Typography from "@mui/material/Typography";

/** As many as fit in a row of a table. */
const SHOWN = 2;

/** Labels as chips: two, and how many more there are. */
export function Few({ of }: { of: string[] }) {
  const rest = of.slice(SHOWN);
  return (
    <Stack direction="row" spacing={0.5} useFlexGap sx={{ flexWrap: "wrap", alignItems: "center" }}>
      {of.slice(0, SHOWN).map((one) => (
        <Chip
          key={one}
          size="small"
          variant="outlined"
          label={one}
          sx={{ height: 22, borderRadius: 1, maxWidth: 200, fontSize: "0.8125rem" }}
        />
      ))}
      {rest.length > 0 && (
        <Typography variant="caption" color="textSecondary" title={rest.join(", ")}>
          +{rest.length}
        </Typography>
      )}
    </Stack>
  );
}
