import { counted } from "../../../parts/formats";
import { useAttempt } from "../../../api/useAttempt";
import Button from "@mui/material/Button";
import Checkbox from "@mui/material/Checkbox";
import FormControlLabel from "@mui/material/FormControlLabel";
import Stack from "@mui/material/Stack";
import Typography from "@mui/material/Typography";
import { useState } from "react";
import { BandRow } from "../../../parts/Band";
import { Problem } from "../../../parts/Problem";
import { useMaking } from "../../../parts/useMaking";
import { FIELD_TYPES } from "../../fields/fieldTypes";
import type { ReadLine } from "../routeDocument";
import { useSeen } from "../useSource";

interface ProposalsProps {
  source: string;
  mapped: Set<string>;
  onTake: (lines: ReadLine[]) => void;
  onClose: () => void;
}

/** Lines for every question that has none, proposed from names and values; taken when confirmed. */
export function Proposals({ source, mapped, onTake, onClose }: ProposalsProps) {
  const { data, error } = useSeen(source);
  const making = useMaking();
  const [without, setWithout] = useState<Set<string>>(new Set());
  const { attempt, failed, busy } = useAttempt();
  const proposals = (data?.proposals ?? []).filter((one) => !mapped.has(one.line.question));
  const taken = proposals.filter((one) => !without.has(one.line.id));
  const fresh = taken.filter((one) => one.make).length;
  const take = async () => {
    await attempt(async () => {
      const lines: ReadLine[] = [];
      for (const one of taken) {
        const field = one.make
          ? await making.field(one.field_label, one.make, one.choices)
          : (one.line.field ?? null);
        lines.push({ ...one.line, field });
      }
      onTake(lines);
    });
  };
  return (
    <BandRow ruled>
      <Typography variant="h3" component="h3" sx={{ pt: 0.5 }}>
        Proposed, from names and answers
      </Typography>
      <Problem error={error ?? failed} />
      {data && proposals.length === 0 && (
        <Typography variant="body2">Every question has its line.</Typography>
      )}
      {proposals.map((one) => (
        <div key={one.line.id}>
          <FormControlLabel
            control={
              <Checkbox
                size="small"
                checked={!without.has(one.line.id)}
                onChange={(event) => {
                  const next = new Set(without);
                  if (event.target.checked) next.delete(one.line.id);
                  else next.add(one.line.id);
                  setWithout(next);
                }}
              />
            }
            label={
              <>
                {one.question} → {one.field_label}
                {one.line.part !== "whole" && ` (${one.line.part} name of it)`}
                {one.make && (
                  <Typography component="span" variant="body2" color="textSecondary">
                    {" "}
                    a new {FIELD_TYPES[one.make]} field
                  </Typography>
                )}
              </>
            }
          />
        </div>
      ))}
      <Stack direction="row" spacing={1} sx={{ py: 0.5 }}>
        <Button
          variant="outlined"
          disabled={busy || taken.length === 0}
          onClick={() => void take()}
        >
          Take {counted(taken.length, "line", "lines")}
          {fresh > 0 && `, make ${counted(fresh, "field", "fields")}`}
        </Button>
        <Button onClick={onClose}>Cancel</Button>
      </Stack>
    </BandRow>
  );
}
