import Button from "@mui/material/Button";
import Checkbox from "@mui/material/Checkbox";
import FormControlLabel from "@mui/material/FormControlLabel";
import MenuItem from "@mui/material/MenuItem";
import Stack from "@mui/material/Stack";
import TextField from "@mui/material/TextField";
import { LineTools } from "../../parts/LineTools";
import { Named } from "../../parts/Named";
import { Sentence } from "../../parts/Sentence";
import { Picker } from "../../parts/Picker";
import { useMaking } from "../../parts/useMaking";
import type { Kind, RouteDocument } from "./routeDocument";

type Line = RouteDocument["consent"][number];

interface ConsentLineProps {
  line: Line;
  kind: Kind;
  /** What can be ticked to agree. */
  boxes: { id: string; name: string; label: string }[];
  lists: { id: string; name: string }[];
  /** Whether the list has itself confirmed by email. */
  asked: boolean;
  readOnly: boolean;
  open: boolean;
  onOpen: (open: boolean) => void;
  onChange: (change: Partial<Line>) => void;
  onRemove: () => void;
}

/** One list that people are subscribed to, when, and what they agree to. A sentence, which opens. */
export function ConsentLine(props: ConsentLineProps) {
  const { line, kind, boxes, lists, asked, readOnly, open, onOpen, onChange, onRemove } = props;
  const making = useMaking();
  const list = lists.find((one) => one.id === line.list)?.name ?? "no list yet";
  const box = boxes.find((one) => one.name === line.question)?.label ?? line.question;
  const name = `the consent to ${list}`;
  return (
    <Sentence
      open={open}
      says={
        <>
          {line.question ? (
            <>
              If <Named>{box}</Named> is ticked, subscribes to{" "}
            </>
          ) : (
            "Subscribes to "
          )}
          <Named>{list}</Named>
          {(line.confirm || asked) && " after a confirmation by email"}
          {line.wording
            ? `, agreeing to “${line.wording}”`
            : line.question && ", agreeing to the words of the question"}
        </>
      }
      tools={!readOnly && <LineTools name={name} onEdit={() => onOpen(true)} onRemove={onRemove} />}
    >
      <Stack direction="row" spacing={1} sx={{ alignItems: "flex-start" }}>
        <Stack sx={{ flex: 1 }}>
          <Picker
            label="Subscribe to the list"
            options={lists}
            value={line.list ?? null}
            onChange={(list) => onChange({ list })}
            onMake={making.list}
            makes="list"
          />
        </Stack>
        <TextField
          select
          label="When"
          value={line.question || "always"}
          onChange={(event) =>
            onChange({
              question: event.target.value === "always" ? "" : event.target.value,
            })
          }
          sx={{ flex: 1 }}
        >
          <MenuItem value="always">always</MenuItem>
          {boxes.map((one) => (
            <MenuItem key={one.id} value={one.name}>
              only if ticked: {one.label}
            </MenuItem>
          ))}
          {line.question && !boxes.some((one) => one.name === line.question) && (
            <MenuItem value={line.question}>{line.question} (not in the form)</MenuItem>
          )}
        </TextField>
        <Button aria-label={`Done with ${name}`} onClick={() => onOpen(false)}>
          Done
        </Button>
      </Stack>
      <TextField
        label={
          line.question
            ? "Wording kept as evidence (empty: the question)"
            : kind === "form"
              ? "What the visitor reads above the button, and agrees to"
              : kind === "file"
                ? "Kept as evidence, unless it is said for a file what its people agreed to"
                : "What these people agreed to, where they did it; kept as evidence"
        }
        multiline
        value={line.wording}
        onChange={(event) => onChange({ wording: event.target.value })}
        sx={{ mt: 1.5 }}
      />
      <FormControlLabel
        control={
          <Checkbox
            size="small"
            checked={line.confirm || asked}
            disabled={asked}
            onChange={(event) => onChange({ confirm: event.target.checked })}
          />
        }
        label={
          asked ? "Confirmed by email first: the list asks for it" : "Confirmed by email first"
        }
      />
    </Sentence>
  );
}
