import Button from "@mui/material/Button";
import Checkbox from "@mui/material/Checkbox";
import FormControlLabel from "@mui/material/FormControlLabel";
import MenuItem from "@mui/material/MenuItem";
import Stack from "@mui/material/Stack";
import TextField from "@mui/material/TextField";
import Typography from "@mui/material/Typography";
import { Band, BandRow } from "../../parts/Band";
import { FindingsAt } from "../../parts/Findings";
import { Picker } from "../../parts/Picker";
import { useMaking } from "../../parts/useMaking";
import { newId } from "../../parts/newId";
import type { BandsProps } from "./BandsProps";
import { OutcomeSample } from "./OutcomeSample";

/** Which lists people are subscribed to, and what they agree to by it. */
export function Consent(props: BandsProps) {
  const { source, document, edit, catalogue, sample, findings, readOnly, choice, seen } = props;
  const making = useMaking();
  const boxes = [
    ...document.form.questions.filter(
      (one) => (one.type === "yes_no" || one.type === "consent") && one.name,
    ),
    ...seen
      .filter((one) => source.kind !== "form" && one.field_type === "yes_no")
      .map((one) => ({ id: one.name, name: one.name, label: one.name })),
  ];
  const confirms = new Set(catalogue.lists.filter((one) => one.confirms).map((one) => one.id));
  type Line = (typeof document.consent)[number];
  const setLines = (change: (lines: Line[]) => Line[]) =>
    edit((route) => ({ ...route, consent: change(route.consent) }));
  const change = (id: string, part: Partial<Line>) =>
    setLines((all) => all.map((one) => (one.id === id ? { ...one, ...part } : one)));
  const add = () =>
    setLines((all) => [
      ...all,
      { id: newId("c"), list: null, question: "", wording: "", confirm: false },
    ]);
  return (
    <Band
      name="Consent"
      id="consent"
      note={
        document.consent.length === 0
          ? "no list"
          : document.consent.some((one) => one.confirm || confirms.has(one.list ?? ""))
            ? "confirmed by email"
            : "single opt-in"
      }
    >
      {document.consent.map((line, index) => (
        <BandRow
          key={line.id}
          id={line.id}
          ruled={index > 0}
          sample={choice && <OutcomeSample sample={sample} line={line.id} />}
        >
          <Stack direction="row" spacing={1} sx={{ pt: 0.75, alignItems: "flex-start" }}>
            <Stack sx={{ flex: 1 }}>
              <Picker
                label="Subscribe to the list"
                options={catalogue.lists}
                value={line.list ?? null}
                disabled={readOnly}
                onChange={(list) => change(line.id, { list })}
                onMake={making.list}
                makes="list"
              />
            </Stack>
            <TextField
              select
              label="When"
              value={line.question || "always"}
              disabled={readOnly}
              onChange={(event) =>
                change(line.id, {
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
            {!readOnly && (
              <Button
                color="inherit"
                aria-label="Remove the list"
                onClick={() => setLines((all) => all.filter((one) => one.id !== line.id))}
              >
                Remove
              </Button>
            )}
          </Stack>
          <TextField
            label={
              line.question
                ? "Wording kept as evidence (empty: the question)"
                : source.kind === "form"
                  ? "What the visitor reads above the button, and agrees to"
                  : source.kind === "file"
                    ? "Kept as evidence, unless it is said for a file what its people agreed to"
                    : "What these people agreed to, where they did it; kept as evidence"
            }
            multiline
            value={line.wording}
            disabled={readOnly}
            onChange={(event) => change(line.id, { wording: event.target.value })}
            sx={{ mt: 1.5 }}
          />
          <FormControlLabel
            control={
              <Checkbox
                size="small"
                checked={line.confirm || confirms.has(line.list ?? "")}
                disabled={readOnly || confirms.has(line.list ?? "")}
                onChange={(event) => change(line.id, { confirm: event.target.checked })}
              />
            }
            label={
              confirms.has(line.list ?? "")
                ? "Confirmed by email first: the list asks for it"
                : "Confirmed by email first"
            }
          />
          <FindingsAt findings={findings} place={line.id} />
        </BandRow>
      ))}
      {document.consent.length === 0 && (
        <BandRow>
          <Typography color="textSecondary">
            Nobody who comes in here is subscribed to a list.
          </Typography>
        </BandRow>
      )}
      {!readOnly && (
        <Stack sx={{ pt: 0.75, pl: 1.5, alignItems: "flex-start" }}>
          <Button onClick={add}>Add a list</Button>
        </Stack>
      )}
    </Band>
  );
}
