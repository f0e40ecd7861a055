import FormControlLabel from "@mui/material/FormControlLabel";
import Radio from "@mui/material/Radio";
import RadioGroup from "@mui/material/RadioGroup";
import Stack from "@mui/material/Stack";
import TextField from "@mui/material/TextField";
import Typography from "@mui/material/Typography";
import type { Schemas } from "../../api/client";
import { Band, BandRow } from "../../parts/Band";
import { FindingsAt } from "../../parts/Findings";
import { askedBy } from "./asked";
import type { BandsProps } from "./BandsProps";
import { Passings } from "./Passings";

type Sees = Schemas["VisitorSees"];

/** What the visitor gets after the form: a text, or another page with chosen answers. */
export function VisitorSees(props: BandsProps) {
  const { document, edit, sample, findings, readOnly, choice, seen } = props;
  const sees = document.visitor_sees;
  const set = (change: Partial<Sees>) =>
    edit((route) => ({ ...route, visitor_sees: { ...route.visitor_sees, ...change } }));
  return (
    <Band
      name="Visitor sees"
      id="visitor_sees"
      note={sees.kind === "text" ? "a text" : "another page"}
    >
      <BandRow
        sample={
          choice && (
            <Typography variant="body2" sx={{ overflowWrap: "anywhere" }}>
              {sees.kind === "text"
                ? [sees.heading, sees.text].filter(Boolean).join(" · ") || "an empty page"
                : sample && (sample.next_page ?? "no page: the address is not complete")}
            </Typography>
          )
        }
      >
        <RadioGroup
          row
          aria-label="What the visitor sees"
          value={sees.kind}
          onChange={(_, kind) => set({ kind: kind as Sees["kind"] })}
        >
          <FormControlLabel
            value="text"
            control={<Radio size="small" />}
            label="A text"
            disabled={readOnly}
          />
          <FormControlLabel
            value="page"
            control={<Radio size="small" />}
            label="Another page"
            disabled={readOnly}
          />
        </RadioGroup>
        {sees.kind === "text" ? (
          <Stack spacing={1.5} sx={{ pt: 1 }}>
            <TextField
              label="Heading"
              value={sees.heading}
              disabled={readOnly}
              onChange={(event) => set({ heading: event.target.value })}
            />
            <TextField
              label="Text"
              multiline
              minRows={2}
              value={sees.text}
              disabled={readOnly}
              onChange={(event) => set({ text: event.target.value })}
            />
          </Stack>
        ) : (
          <Stack spacing={1.5} sx={{ pt: 1 }}>
            <TextField
              label="Address of the page"
              placeholder="https://www.example.org/thanks"
              value={sees.address}
              disabled={readOnly}
              onChange={(event) => set({ address: event.target.value })}
            />
            <Passings
              passing={sees.passing}
              questions={askedBy(document, seen).filter((one) => one.group !== "Other data")}
              readOnly={readOnly}
              onChange={(passing) => set({ passing })}
            />
          </Stack>
        )}
        <FindingsAt findings={findings} place="visitor_sees" />
      </BandRow>
    </Band>
  );
}
