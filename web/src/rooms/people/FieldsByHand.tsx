import Button from "@mui/material/Button";
import Stack from "@mui/material/Stack";
import Typography from "@mui/material/Typography";
import { useState } from "react";
import { ApiError, type Schemas } from "../../api/client";
import { BandRow } from "../../parts/Band";
import { Problem } from "../../parts/Problem";
import { ValueBox } from "../conditions/ValueBox";
import { useByHand } from "./useByHand";

interface FieldsByHandProps {
  person: Schemas["PersonOut"];
  fields: Schemas["FieldOut"][];
  onDone: () => void;
}

/** The fields of a person while a member changes them; an empty one is known no more. */
export function FieldsByHand({ person, fields, onDone }: FieldsByHandProps) {
  const known = Object.fromEntries(person.fields.map((one) => [one.key, one.written]));
  const [written, setWritten] = useState<Record<string, string>>({});
  const { change, failed } = useByHand(person.id);
  const wrong = failed instanceof ApiError ? failed.wrongs : [];
  const save = async () => {
    if (await change({ fields: written })) onDone();
  };
  return (
    <BandRow>
      <Stack spacing={1.5} sx={{ py: 1 }}>
        {fields
          .filter((one) => one.type !== "email")
          .map((one) => {
            const value = written[one.key] ?? known[one.key] ?? "";
            const problem = wrong.find((each) => each.place === one.key);
            return (
              <Stack
                key={one.key}
                direction="row"
                spacing={1.5}
                role="group"
                aria-label={one.label}
                sx={{
                  alignItems: "center",
                  "& .MuiTextField-root, & .MuiAutocomplete-root": { width: 300 },
                }}
              >
                <ValueBox
                  label={one.label}
                  op={one.type === "choices" ? "one_of" : "is"}
                  value={value}
                  values={value ? value.split("\n") : []}
                  type={one.type}
                  options={
                    one.choices.length
                      ? one.choices.map((choice) => [choice.key, choice.label])
                      : undefined
                  }
                  readOnly={false}
                  onChange={(next) =>
                    setWritten({
                      ...written,
                      [one.key]: next.values ? next.values.join("\n") : (next.value ?? ""),
                    })
                  }
                />
                {value !== "" && (
                  <Button
                    color="inherit"
                    aria-label={`Empty ${one.label}`}
                    onClick={() => setWritten({ ...written, [one.key]: "" })}
                  >
                    Empty
                  </Button>
                )}
                {problem && (
                  <Typography variant="body2" color="error" role="alert">
                    {problem.sentence} {problem.fix}
                  </Typography>
                )}
              </Stack>
            );
          })}
        {wrong.length === 0 && <Problem error={failed} />}
        <Stack direction="row" spacing={1.5}>
          <Button variant="outlined" onClick={() => void save()}>
            Save the fields
          </Button>
          <Button onClick={onDone}>Cancel</Button>
        </Stack>
      </Stack>
    </BandRow>
  );
}
