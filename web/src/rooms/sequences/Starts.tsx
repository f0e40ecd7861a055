import FormControlLabel from "@mui/material/FormControlLabel";
import Radio from "@mui/material/Radio";
import RadioGroup from "@mui/material/RadioGroup";
import Typography from "@mui/material/Typography";
import { useQuery } from "@tanstack/react-query";
import { startsQuery } from "../../api/sequences";
import { useSlug } from "../../api/workspace";

interface StartsProps {
  value: string;
  onChange: (start: string) => void;
}

/** What a new sequence begins with: an empty lane, or one of the sequences to begin from. */
export function Starts({ value, onChange }: StartsProps) {
  const workspace = useSlug();
  const { data } = useQuery(startsQuery(workspace));
  const all = [
    { key: "", name: "An empty sheet", says: "One lane, and nothing in it." },
    ...(data ?? []),
  ];
  return (
    <RadioGroup
      aria-label="Begin with"
      value={value}
      onChange={(_, start) => onChange(start)}
      sx={{ mt: 1 }}
    >
      {all.map((one) => (
        <FormControlLabel
          key={one.key}
          value={one.key}
          control={<Radio size="small" />}
          sx={{ alignItems: "flex-start", mb: 0.5 }}
          label={
            <>
              <Typography variant="body2" sx={{ pt: 0.75 }}>
                {one.name}
              </Typography>
              <Typography variant="caption" color="textSecondary">
                {one.says}
              </Typography>
            </>
          }
        />
      ))}
    </RadioGroup>
  );
}
