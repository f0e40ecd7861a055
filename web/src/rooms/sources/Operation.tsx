import MenuItem from "@mui/material/MenuItem";
import Stack from "@mui/material/Stack";
import TextField from "@mui/material/TextField";
import type { RouteDocument } from "./routeDocument";
import type { Asked } from "./asked";
import { QuestionPicker } from "./QuestionPicker";

const OPERATIONS: [RouteDocument["operation"], string][] = [
  ["add_or_update", "adds or updates a person"],
  ["add_only", "adds a person, and leaves who is known"],
  ["update_only", "updates who is known, and adds nobody"],
  ["change_address", "gives a person another address"],
  ["erase", "erases a person"],
];

interface OperationProps {
  document: RouteDocument;
  asked: Asked[];
  readOnly: boolean;
  edit: (change: (route: RouteDocument) => RouteDocument) => void;
}

/** What a submission of this source is for. */
export function Operation({ document, asked, readOnly, edit }: OperationProps) {
  return (
    <Stack direction="row" spacing={1.5} useFlexGap sx={{ flexWrap: "wrap", pt: 1, pb: 0.5 }}>
      <TextField
        select
        label="A submission"
        value={document.operation}
        disabled={readOnly}
        onChange={(event) =>
          edit((route) => ({
            ...route,
            operation: event.target.value as RouteDocument["operation"],
          }))
        }
        sx={{ width: 330 }}
      >
        {OPERATIONS.map(([key, label]) => (
          <MenuItem key={key} value={key}>
            {label}
          </MenuItem>
        ))}
      </TextField>
      {document.operation === "change_address" && (
        <Stack sx={{ width: 260 }}>
          <QuestionPicker
            label="Address so far"
            asked={asked}
            value={document.old_address}
            disabled={readOnly}
            onChange={(old_address) => edit((route) => ({ ...route, old_address }))}
          />
        </Stack>
      )}
    </Stack>
  );
}
