import Button from "@mui/material/Button";
import Stack from "@mui/material/Stack";
import Typography from "@mui/material/Typography";
import { ApiError, type Schemas } from "../../api/client";
import { FormActions } from "../../drafts/FormActions";
import { BandRow } from "../../parts/Band";
import { ValueBox } from "../conditions/ValueBox";
import { usePersonForm } from "./useByHand";

interface FieldsByHandProps {
  person: Schemas["PersonOut"];
  fields: Schemas["FieldOut"][];
  onDone: () => void;
}

/** The fields of a person while a member changes them; an empty one is known no more. */
export function FieldsByHand({ person, fields, onDone }: FieldsByHandProps) {
  const draft = usePersonForm<Record<string, string>>(
    person,
    "fields",
    (one) => Object.fromEntries(one.fields.map((field) => [field.key, field.written])),
    (before, after) => ({
      fields: Object.fromEntries(
        Object.entries(after).filter(([key, value]) => value !== (before[key] ?? "")),
      ),
    }),
  );
  const wrong = draft.error instanceof ApiError ? draft.error.wrongs : [];
  return (
    <BandRow>
      <Stack spacing={1.5} sx={{ py: 1 }}>
        {fields
          .filter((one) => one.type !== "email")
          .map((one) => {
            const value = draft.form[one.key] ?? "";
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
                  "& .MuiTextField-root, & .MuiPickersTextField-root, & .MuiAutocomplete-root": {
                    width: 300,
                  },
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
                    draft.set({
                      [one.key]: next.values ? next.values.join("\n") : (next.value ?? ""),
                    })
                  }
                />
                {value !== "" && (
                  <Button
                    color="inherit"
                    aria-label={`Empty ${one.label}`}
                    onClick={() => draft.set({ [one.key]: "" })}
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
        <FormActions draft={draft} label="Save the fields" onSaved={onDone} onCancel={onDone} />
      </Stack>
    </BandRow>
  );
}
