import Button from "@mui/material/Button";
import Stack from "@mui/material/Stack";
import Typography from "@mui/material/Typography";
import type { Schemas } from "../../api/client";
import { AddMenu } from "../../parts/AddMenu";
import { ValueBox } from "../conditions/ValueBox";
import type { Who } from "./rehearsal";

interface MadeUpFieldsProps {
  who: Who;
  catalogue: Schemas["CatalogueOut"];
  onChange: (who: Partial<Who>) => void;
}

/** What somebody made up has: values of fields, and tags. */
export function MadeUpFields({ who, catalogue, onChange }: MadeUpFieldsProps) {
  const fields = catalogue.fields.filter((one) => one.type !== "email");
  const put = (key: string, value: string | undefined) => {
    const others = Object.fromEntries(Object.entries(who.values).filter(([one]) => one !== key));
    onChange({ values: value === undefined ? others : { ...others, [key]: value } });
  };
  return (
    <Stack spacing={1}>
      {fields
        .filter((one) => one.key in who.values)
        .map((one) => {
          const value = who.values[one.key] ?? "";
          return (
            <Stack key={one.key} direction="row" spacing={1} role="group" aria-label={one.label}>
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
                  put(one.key, next.values ? next.values.join("\n") : (next.value ?? ""))
                }
              />
              <Button
                color="inherit"
                aria-label={`Remove ${one.label}`}
                onClick={() => put(one.key, undefined)}
              >
                Remove
              </Button>
            </Stack>
          );
        })}
      {who.tags.map((tag) => {
        const name = catalogue.tags.find((one) => one.id === tag)?.name ?? "a tag that is gone";
        return (
          <Stack key={tag} direction="row" spacing={1} sx={{ alignItems: "center" }}>
            <Typography variant="body2" sx={{ flex: 1 }}>
              Tagged {name}
            </Typography>
            <Button
              color="inherit"
              aria-label={`Remove the tag ${name}`}
              onClick={() => onChange({ tags: who.tags.filter((one) => one !== tag) })}
            >
              Remove
            </Button>
          </Stack>
        );
      })}
      <Stack direction="row" spacing={1}>
        <AddMenu
          label="Add a field …"
          options={fields
            .filter((one) => !(one.key in who.values))
            .map((one): [string, string] => [one.key, one.label])}
          onAdd={(key) => put(key, "")}
        />
        <AddMenu
          label="Add a tag …"
          options={catalogue.tags
            .filter((one) => !who.tags.includes(one.id))
            .map((one): [string, string] => [one.id, one.name])}
          onAdd={(tag) => onChange({ tags: [...who.tags, tag] })}
        />
      </Stack>
    </Stack>
  );
}
