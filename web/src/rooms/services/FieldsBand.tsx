import { counted } from "../../parts/formats";
import Button from "@mui/material/Button";
import Stack from "@mui/material/Stack";
import TableBody from "@mui/material/TableBody";
import TableCell from "@mui/material/TableCell";
import TableHead from "@mui/material/TableHead";
import TableRow from "@mui/material/TableRow";
import Typography from "@mui/material/Typography";
import { useState } from "react";
import { Band, BandRow } from "../../parts/Band";
import { ScrollTable } from "../../parts/ScrollTable";
import { useMoments } from "../../parts/moment";
import { mono } from "../../theme";
import { FieldMade } from "./FieldMade";
import type { Service } from "./queries";
import { ReadAgain } from "./ReadAgain";
import { FAR_TYPES } from "./words";

/** What the service takes: its fields, as they were read last, and what there is to choose. */
export function FieldsBand({ service, readOnly }: { service: Service; readOnly: boolean }) {
  const moments = useMoments();
  const [making, setMaking] = useState(false);
  return (
    <Band
      name="Receives"
      id="takes"
      note={
        <>
          {counted(service.fields.length, "field", "fields")}
          {service.read_at && <div>read {moments.moment(service.read_at)}</div>}
        </>
      }
    >
      <BandRow>
        <ScrollTable size="small">
          <TableHead>
            <TableRow>
              <TableCell>Field</TableCell>
              <TableCell>Key</TableCell>
              <TableCell>Type</TableCell>
              <TableCell>Allowed</TableCell>
            </TableRow>
          </TableHead>
          <TableBody>
            {service.fields.map((one) => (
              <TableRow key={one.key} hover>
                <TableCell>
                  {one.label || one.key}
                  {one.required && (
                    <Typography component="span" variant="caption" color="warning">
                      {" "}
                      required{one.group ? ` for a ${one.group.toLowerCase()}` : ""}
                    </Typography>
                  )}
                </TableCell>
                <TableCell sx={{ fontFamily: mono, fontSize: 12.5 }}>{one.key}</TableCell>
                <TableCell>{FAR_TYPES[one.type]}</TableCell>
                <TableCell>
                  {one.longest ? `at most ${one.longest} characters` : ""}
                  {one.choices.map((choice) => choice.label || choice.value).join(", ")}
                </TableCell>
              </TableRow>
            ))}
          </TableBody>
        </ScrollTable>
        {service.description.things.map((kind) => (
          <Typography key={kind.kind} variant="body2" sx={{ pt: 1 }}>
            {kind.label}s there:{" "}
            {(service.things[kind.kind] ?? []).map((one) => one.label).join(", ") || "none"}
          </Typography>
        ))}
        {!readOnly && (
          <Stack direction="row" spacing={1} sx={{ pt: 1, alignItems: "center" }}>
            {service.description.make_field && (
              <Button onClick={() => setMaking(true)}>Create a field there</Button>
            )}
            <ReadAgain service={service} />
          </Stack>
        )}
      </BandRow>
      {making && (
        <FieldMade service={service} onClose={() => setMaking(false)} onMade={() => undefined} />
      )}
    </Band>
  );
}
