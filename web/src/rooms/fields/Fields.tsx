import { number } from "../../parts/formats";
import Button from "@mui/material/Button";
import Stack from "@mui/material/Stack";
import TableBody from "@mui/material/TableBody";
import TableCell from "@mui/material/TableCell";
import TableHead from "@mui/material/TableHead";
import TableRow from "@mui/material/TableRow";
import Typography from "@mui/material/Typography";
import { useState } from "react";
import { Link } from "react-router";
import { useMayChange, useSlug } from "../../api/workspace";
import { Loading } from "../../parts/Loading";
import { ScrollTable } from "../../parts/ScrollTable";
import { Sheet } from "../../parts/Sheet";
import { mono } from "../../theme";
import { FIELD_TYPES } from "./fieldTypes";
import { FieldChange, type Change } from "./FieldChange";
import { NewField } from "./NewField";
import { useFields } from "./useFields";

/** What can be known of people: how many have it, which routes fill it, and how to change it. */
export function Fields() {
  const at = `/w/${useSlug()}`;
  const mayChange = useMayChange();
  const { fields, use, error } = useFields();
  const [change, setChange] = useState<{ what: Change; field: string }>();
  const [making, setMaking] = useState(false);
  if (!fields || !use) return <Loading error={error} />;
  const changing = fields.find((one) => one.id === change?.field);
  const usedBy = (id: string) => use.find((one) => one.field === id);
  return (
    <Sheet
      title="Fields"
      name="Fields"
      back={{ to: `${at}/lists`, label: "Lists, tags and fields" }}
      actions={
        mayChange && (
          <Button variant="contained" onClick={() => setMaking(true)}>
            New field
          </Button>
        )
      }
    >
      <ScrollTable size="small" sx={{ mt: 1 }}>
        <TableHead>
          <TableRow>
            <TableCell>Field</TableCell>
            <TableCell>Holds</TableCell>
            <TableCell>In texts as</TableCell>
            <TableCell align="right">People</TableCell>
            <TableCell sx={{ pl: 3 }}>Filled by</TableCell>
            {mayChange && <TableCell>Change</TableCell>}
          </TableRow>
        </TableHead>
        <TableBody>
          {fields.map((field) => (
            <TableRow key={field.id}>
              <TableCell>
                <strong>{field.label}</strong>
                {field.choices.length > 0 && (
                  <Typography variant="caption" component="div" color="textSecondary">
                    {field.choices.map((one) => one.label).join(", ")}
                  </Typography>
                )}
              </TableCell>
              <TableCell>{FIELD_TYPES[field.type].replace("-", " ")}</TableCell>
              <TableCell sx={{ fontFamily: mono, fontSize: "0.8125rem" }}>{field.key}</TableCell>
              <TableCell align="right">
                {field.key === "email" ? "all" : number(usedBy(field.id)?.people ?? 0)}
              </TableCell>
              <TableCell sx={{ pl: 3 }}>
                {usedBy(field.id)?.routes.length === 0 && (
                  <Typography variant="body2" color="textSecondary">
                    no route
                  </Typography>
                )}
                {usedBy(field.id)?.routes.map((route, index) => (
                  <span key={route.source}>
                    {index > 0 && ", "}
                    <Link to={`${at}/sources/${route.source}#read_as`}>{route.name}</Link>
                    {!route.live && " (draft)"}
                  </span>
                ))}
              </TableCell>
              {mayChange && (
                <TableCell>
                  <Stack direction="row" spacing={0.5}>
                    {actionsFor(field.built_in, field.type).map(([what, word]) => (
                      <Button
                        key={what}
                        color={what === "remove" ? "inherit" : "primary"}
                        aria-label={`${word} ${field.label}`}
                        onClick={() => setChange({ what, field: field.id })}
                      >
                        {word}
                      </Button>
                    ))}
                  </Stack>
                </TableCell>
              )}
            </TableRow>
          ))}
        </TableBody>
      </ScrollTable>
      {change && changing && (
        <FieldChange
          what={change.what}
          field={changing}
          fields={fields}
          use={usedBy(changing.id)}
          onClose={() => setChange(undefined)}
        />
      )}
      {making && <NewField onClose={() => setMaking(false)} />}
    </Sheet>
  );
}

function actionsFor(builtIn: boolean, type: string): [Change, string][] {
  const all: [Change, string][] = [["rename", "Rename"]];
  if (type === "choice" || type === "choices") all.push(["choices", "Choices"]);
  if (!builtIn) all.push(["retype", "Retype"], ["merge", "Merge"], ["remove", "Remove"]);
  return all;
}
