import Button from "@mui/material/Button";
import MenuItem from "@mui/material/MenuItem";
import Stack from "@mui/material/Stack";
import TextField from "@mui/material/TextField";
import { useState } from "react";
import { LineTools } from "../../../parts/LineTools";
import { Named } from "../../../parts/Named";
import { Sentence } from "../../../parts/Sentence";
import type { RouteDocument } from "../routeDocument";
import type { Asked } from "../asked";
import { QuestionPicker } from "../QuestionPicker";

const OPERATIONS: [RouteDocument["operation"], string][] = [
  ["add_or_update", "adds or updates a person"],
  ["add_only", "adds new people and leaves existing ones unchanged"],
  ["update_only", "updates existing people and adds nobody"],
  ["change_address", "changes a person’s address"],
  ["erase", "erases a person"],
];

interface OperationProps {
  document: RouteDocument;
  asked: Asked[];
  readOnly: boolean;
  edit: (change: (route: RouteDocument) => RouteDocument) => void;
}

/** What a submission of this source is for: a sentence, which opens to be edited. */
export function Operation({ document, asked, readOnly, edit }: OperationProps) {
  const { operation, old_address } = document;
  const [open, setOpen] = useState(false);
  const does = OPERATIONS.find(([key]) => key === operation)?.[1] ?? operation;
  const before = asked.find((one) => one.name === old_address)?.label || old_address;
  return (
    <Sentence
      open={open && !readOnly}
      tools={!readOnly && <LineTools name="what a submission does" onEdit={() => setOpen(true)} />}
      says={
        <>
          A submission <Named>{does}</Named>
          {operation === "change_address" && before && (
            <>
              ; the current address is the answer to <Named>{before}</Named>
            </>
          )}
        </>
      }
    >
      <Stack
        direction="row"
        spacing={1.5}
        useFlexGap
        sx={{ flexWrap: "wrap", alignItems: "flex-end" }}
      >
        <TextField
          select
          label="A submission"
          value={operation}
          onChange={(event) =>
            edit((route) => ({
              ...route,
              operation: event.target.value as RouteDocument["operation"],
            }))
          }
          sx={{ width: 390 }}
        >
          {OPERATIONS.map(([key, label]) => (
            <MenuItem key={key} value={key}>
              {label}
            </MenuItem>
          ))}
        </TextField>
        {operation === "change_address" && (
          <Stack sx={{ width: 260 }}>
            <QuestionPicker
              label="Current address"
              asked={asked}
              value={old_address}
              disabled={false}
              onChange={(chosen) => edit((route) => ({ ...route, old_address: chosen }))}
            />
          </Stack>
        )}
        <Button aria-label="Done with what a submission does" onClick={() => setOpen(false)}>
          Done
        </Button>
      </Stack>
    </Sentence>
  );
}
