import { LimitedField } from "../../parts/LimitedField";
import Button from "@mui/material/Button";
import Stack from "@mui/material/Stack";
import type { Schemas } from "../../api/client";

type Link = Schemas["StyleLink"];

interface StyleLinksProps {
  links: Link[];
  readOnly: boolean;
  onChange: (links: Link[]) => void;
}

/** Links in plain words below every letter. */
export function StyleLinks({ links, readOnly, onChange }: StyleLinksProps) {
  const set = (index: number, change: Partial<Link>) =>
    onChange(links.map((one, at) => (at === index ? { ...one, ...change } : one)));
  return (
    <>
      {links.map((one, index) => (
        <Stack key={index} direction={{ xs: "column", sm: "row" }} spacing={1}>
          <LimitedField
            most={60}
            label="Label"
            value={one.label}
            disabled={readOnly}
            onChange={(text) => set(index, { label: text })}
            sx={{ maxWidth: 150 }}
          />
          <LimitedField
            most={500}
            label="Link"
            placeholder="https://"
            value={one.link}
            disabled={readOnly}
            onChange={(text) => set(index, { link: text })}
          />
          {!readOnly && (
            <Button
              color="inherit"
              aria-label={`Remove the link ${one.label || index + 1}`}
              onClick={() => onChange(links.filter((_, at) => at !== index))}
            >
              Remove
            </Button>
          )}
        </Stack>
      ))}
      {!readOnly && links.length < 8 && (
        <div>
          <Button onClick={() => onChange([...links, { label: "", link: "" }])}>Add link</Button>
        </div>
      )}
    </>
  );
}
