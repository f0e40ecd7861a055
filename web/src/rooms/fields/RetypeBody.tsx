import { counted } from "../../parts/formats";
import { useAttempt } from "../../api/useAttempt";
import Button from "@mui/material/Button";
import DialogActions from "@mui/material/DialogActions";
import DialogContent from "@mui/material/DialogContent";
import MenuItem from "@mui/material/MenuItem";
import Stack from "@mui/material/Stack";
import TextField from "@mui/material/TextField";
import Typography from "@mui/material/Typography";
import { useState } from "react";
import type { Schemas } from "../../api/client";
import { Problem } from "../../parts/Problem";
import { ChoicesEditor } from "../sources/questions/ChoicesEditor";
import type { FieldType } from "./fieldTypes";
import { TypePicker } from "./TypePicker";
import { useFields, type Field } from "./useFields";

/** Another type for a field: what of its values could not be read stands here before it is done. */
export function RetypeBody(props: { field: Field; people: number; onClose: () => void }) {
  const { field, people, onClose } = props;
  const { preview, retype } = useFields();
  const [otherType, setType] = useState<FieldType>();
  const [otherChoices, setChoices] = useState<Schemas["Choice"][]>();
  const type = otherType ?? field.type;
  const choices = otherChoices ?? field.choices;
  const [order, setOrder] = useState<Schemas["RetypeIn"]["date_order"]>("unstated");
  const [found, setFound] = useState<Schemas["RetypeOut"]>();
  const { attempt, failed: error } = useAttempt();
  const body = { type, choices, date_order: order };
  const isChoice = type === "choice" || type === "choices";
  const changed = () => setFound(undefined);
  return (
    <>
      <DialogContent>
        <Stack spacing={2} sx={{ pt: 1 }}>
          <TypePicker
            value={type}
            onChange={(chosen) => {
              setType(chosen);
              changed();
            }}
          />
          {type === "date" && (
            <TextField
              select
              label="Order of dates in the values there are"
              value={order}
              onChange={(event) => {
                setOrder(event.target.value as typeof order);
                changed();
              }}
            >
              <MenuItem value="unstated">year first</MenuItem>
              <MenuItem value="day_first">day first (31/12/2026)</MenuItem>
              <MenuItem value="month_first">month first (12/31/2026)</MenuItem>
            </TextField>
          )}
          {isChoice && (
            <ChoicesEditor
              choices={choices}
              onChange={(next) => {
                setChoices(next);
                changed();
              }}
            />
          )}
          {found && (
            <div>
              <Typography>
                {counted(found.people - found.unreadable, "value can", "values can")} be read,{" "}
                {found.unreadable} cannot and would be lost.
              </Typography>
              {found.examples.map((one) => (
                <Typography key={one.value} variant="body2" color="error">
                  {one.value}: {one.why}
                </Typography>
              ))}
            </div>
          )}
        </Stack>
        <Problem error={error} />
      </DialogContent>
      <DialogActions>
        <Button onClick={onClose}>Cancel</Button>
        {found ? (
          <Button
            variant="contained"
            onClick={() =>
              void attempt(async () => {
                await retype(field.id, body);
                onClose();
              })
            }
          >
            Retype {found.people} {found.unreadable > 0 && `and lose ${found.unreadable}`}
          </Button>
        ) : (
          <Button
            variant="contained"
            disabled={type === field.type && !isChoice}
            onClick={() =>
              void attempt(async () => {
                setFound(await preview(field.id, body));
              })
            }
          >
            See what {counted(people, "value", "values")} would become
          </Button>
        )}
      </DialogActions>
    </>
  );
}
