import { number } from "../../../parts/formats";
import Checkbox from "@mui/material/Checkbox";
import FormControlLabel from "@mui/material/FormControlLabel";
import MenuItem from "@mui/material/MenuItem";
import Stack from "@mui/material/Stack";
import TextField from "@mui/material/TextField";
import Typography from "@mui/material/Typography";
import type { Schemas } from "../../../api/client";
import type { FileOut } from "./useFiles";

type Shape = Schemas["TableShape"];

const DELIMITERS: [string, string][] = [
  [",", "comma"],
  [";", "semicolon"],
  ["\t", "tab"],
  ["|", "bar"],
];
const ENCODINGS: [Shape["encoding"], string][] = [
  ["utf-8", "UTF-8"],
  ["utf-8-sig", "UTF-8 with a mark"],
  ["utf-16", "UTF-16"],
  ["windows-1252", "Windows-1252"],
];

interface FileShapeProps {
  file: FileOut;
  readOnly: boolean;
  onShape: (shape: Shape) => Promise<void>;
}

/** How the file is written, as it was found; to be set right where that was wrong. */
export function FileShape({ file, readOnly, onShape }: FileShapeProps) {
  const shape = file.shape;
  const isOver = file.state === "done" || file.state === "cancelled";
  const fixed = readOnly || !["ready", "counted", "failed"].includes(file.state);
  const size =
    file.size > 2 ** 20
      ? `${number(file.size / 2 ** 20, 1)} MB`
      : `${Math.ceil(file.size / 1024)} KB`;
  return (
    <>
      <Typography>
        <strong>{file.name}</strong>{" "}
        <Typography component="span" variant="body2" color="textSecondary">
          {size}
          {file.headings.length > 0 && ` · ${file.headings.length} columns`}
        </Typography>
      </Typography>
      {shape?.format === "csv" && !isOver && (
        <Stack direction="row" spacing={1.5} useFlexGap sx={{ pt: 1, flexWrap: "wrap" }}>
          <TextField
            select
            label="Cells are divided by"
            value={shape.delimiter}
            disabled={fixed}
            onChange={(event) => void onShape({ ...shape, delimiter: event.target.value })}
            sx={{ width: 160 }}
          >
            {DELIMITERS.map(([key, label]) => (
              <MenuItem key={key} value={key}>
                {label}
              </MenuItem>
            ))}
          </TextField>
          <TextField
            select
            label="Letters are written in"
            value={shape.encoding}
            disabled={fixed}
            onChange={(event) =>
              void onShape({ ...shape, encoding: event.target.value as Shape["encoding"] })
            }
            sx={{ width: 190 }}
          >
            {ENCODINGS.map(([key, label]) => (
              <MenuItem key={key} value={key}>
                {label}
              </MenuItem>
            ))}
            {!ENCODINGS.some(([key]) => key === shape.encoding) && (
              <MenuItem value={shape.encoding}>{shape.encoding}</MenuItem>
            )}
          </TextField>
          <TextField
            select
            label="Quotes"
            value={shape.quote}
            disabled={fixed}
            onChange={(event) =>
              void onShape({ ...shape, quote: event.target.value as Shape["quote"] })
            }
            sx={{ width: 130 }}
          >
            <MenuItem value={'"'}>double (")</MenuItem>
            <MenuItem value={"'"}>single (')</MenuItem>
          </TextField>
        </Stack>
      )}
      {shape && !isOver && (
        <FormControlLabel
          control={
            <Checkbox
              size="small"
              checked={shape.has_header}
              disabled={fixed}
              onChange={(event) => void onShape({ ...shape, has_header: event.target.checked })}
            />
          }
          label="The first row holds the names of the columns"
        />
      )}
    </>
  );
}
