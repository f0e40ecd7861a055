import Typography from "@mui/material/Typography";
import type { Schemas } from "../../api/client";
import { LimitedField } from "../../parts/LimitedField";
import { Picker } from "../../parts/Picker";
import type { Door } from "./sequenceDocument";

interface ClickOpensProps {
  door: Extract<Door, { kind: "click" }>;
  catalogue: Schemas["CatalogueOut"];
  readOnly: boolean;
  onChange: (door: Door) => void;
}

/** Which click opens a door. */
export function ClickOpens({ door, catalogue, readOnly, onChange }: ClickOpensProps) {
  return (
    <>
      <Picker
        label="Message (empty: any)"
        options={catalogue.messages}
        value={door.message ?? null}
        disabled={readOnly}
        onChange={(message) => onChange({ ...door, message })}
      />
      <LimitedField
        most={500}
        label="The link’s address contains (optional)"
        placeholder="/shop"
        value={door.link}
        disabled={readOnly}
        onChange={(text) => onChange({ ...door, link: text })}
      />
      <Typography variant="caption" color="textSecondary">
        Clicks are counted only where the message or the workspace says so. Programs that follow
        links by themselves do not count.
      </Typography>
    </>
  );
}
