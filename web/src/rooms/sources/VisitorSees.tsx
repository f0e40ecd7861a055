import Button from "@mui/material/Button";
import FormControlLabel from "@mui/material/FormControlLabel";
import Radio from "@mui/material/Radio";
import RadioGroup from "@mui/material/RadioGroup";
import Stack from "@mui/material/Stack";
import TextField from "@mui/material/TextField";
import Typography from "@mui/material/Typography";
import { useState } from "react";
import type { Schemas } from "../../api/client";
import { Band, BandRow } from "../../parts/Band";
import { FindingsAt } from "../../parts/Findings";
import { LineTools } from "../../parts/LineTools";
import { Named } from "../../parts/Named";
import { Sentence } from "../../parts/Sentence";
import { askedBy, type Asked } from "./asked";
import { useRoute } from "./RouteContext";
import { Passings } from "./Passings";

type Sees = Schemas["VisitorSees"];

/** What the visitor gets after the form: a text, or another page with chosen answers. */
export function VisitorSees() {
  const { document, edit, sample, findings, readOnly, choice, seen } = useRoute();
  const sees = document.visitor_sees;
  const [open, setOpen] = useState(false);
  const asked = askedBy(document, seen);
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
        <Sentence
          open={open && !readOnly}
          tools={
            !readOnly && <LineTools name="what the visitor sees" onEdit={() => setOpen(true)} />
          }
          says={<Says sees={sees} label={(name) => labelOf(asked, name)} />}
        >
          <RadioGroup
            row
            aria-label="What the visitor sees"
            value={sees.kind}
            onChange={(_, kind) => set({ kind: kind as Sees["kind"] })}
          >
            <FormControlLabel value="text" control={<Radio size="small" />} label="A text" />
            <FormControlLabel value="page" control={<Radio size="small" />} label="Another page" />
          </RadioGroup>
          {sees.kind === "text" ? (
            <Stack spacing={1.5} sx={{ pt: 1 }}>
              <TextField
                label="Heading"
                value={sees.heading}
                onChange={(event) => set({ heading: event.target.value })}
              />
              <TextField
                label="Text"
                multiline
                minRows={2}
                value={sees.text}
                onChange={(event) => set({ text: event.target.value })}
              />
            </Stack>
          ) : (
            <Stack spacing={1.5} sx={{ pt: 1 }}>
              <TextField
                label="Address of the page"
                placeholder="https://www.example.org/thanks"
                value={sees.address}
                onChange={(event) => set({ address: event.target.value })}
              />
              <Passings
                passing={sees.passing}
                questions={asked.filter((one) => one.group !== "Other data")}
                onChange={(passing) => set({ passing })}
              />
            </Stack>
          )}
          <Button
            aria-label="Done with what the visitor sees"
            variant="outlined"
            onClick={() => setOpen(false)}
            sx={{ mt: 1.5 }}
          >
            Done
          </Button>
        </Sentence>
        <FindingsAt findings={findings} place="visitor_sees" />
      </BandRow>
    </Band>
  );
}

const labelOf = (asked: Asked[], name: string) =>
  asked.find((one) => one.name === name)?.label || name;

/** What follows the form, as a sentence. */
function Says({ sees, label }: { sees: Sees; label: (name: string) => string }) {
  if (sees.kind === "text") {
    const shown = [sees.heading, sees.text].filter(Boolean).join(" · ");
    return shown ? (
      <>
        A page that says <Named>“{shown}”</Named>
      </>
    ) : (
      "A page that says thank you in the language of the form"
    );
  }
  return (
    <>
      Continues to <Named>{sees.address || "a page without an address yet"}</Named>
      {sees.passing.length > 0 && ", passing along "}
      {sees.passing.map((one, index) => (
        <span key={index}>
          {index > 0 && ", "}
          <Named>{label(one.question)}</Named> as {one.parameter}
        </span>
      ))}
    </>
  );
}
